"""Photographs: made small and upright; what is no picture, too large or cut off is told."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from yarvel.exchange.photograph import LONGEST, read_photograph, small_photograph
from yarvel.figures.errors import JobError


def file(width: int, height: int, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 120, 60)).save(out, kind)
    return out.getvalue()


@given(st.integers(1, 3000), st.integers(1, 3000))
def test_a_picture_keeps_its_shape(width: int, height: int) -> None:
    small = small_photograph(file(width, height), Path("a.png"))
    assert max(small.width, small.height) <= LONGEST
    with Image.open(io.BytesIO(small.jpeg)) as read:
        assert (read.format, read.size) == ("JPEG", (small.width, small.height))
    if max(width, height) <= LONGEST:
        assert (small.width, small.height) == (width, height)


@pytest.mark.parametrize("kind", ["JPEG", "PNG"])
def test_what_was_written_into_a_picture_does_not_stay_in_it(kind: str) -> None:
    """A comment, a place on the map, a camera's number: none of it goes into a docket, or from there into archives."""
    said, out = b"for Mrs Saltmarsh, 4 Ferry Lane", io.BytesIO()
    picture = Image.new("RGB", (60, 40), (200, 10, 10))
    exif = picture.getexif()
    exif[0x010E] = said.decode()
    more: dict[str, Any] = {"comment": said} if kind == "JPEG" else {"pnginfo": PngInfo()}
    if kind == "PNG":
        more["pnginfo"].add_text("Comment", said.decode())
    picture.save(out, kind, exif=exif, **more)
    assert said in out.getvalue()
    small = small_photograph(out.getvalue(), Path("a"))
    assert said not in small.jpeg
    with Image.open(io.BytesIO(small.jpeg)) as read:
        assert not read.getexif() and "comment" not in read.info


def test_a_picture_taken_sideways_stands_upright() -> None:
    """Exif 2.32, orientation 6: turned a quarter."""
    out = io.BytesIO()
    picture = Image.new("RGB", (400, 300))
    exif = picture.getexif()
    exif[0x0112] = 6
    picture.save(out, "JPEG", exif=exif)
    small = small_photograph(out.getvalue(), Path("a.jpg"))
    assert (small.width, small.height) == (300, 400)


@given(st.binary(max_size=400))
def test_bytes_that_are_no_picture_are_refused(data: bytes) -> None:
    with pytest.raises(JobError) as caught:
        small_photograph(data, Path("note.jpg"))
    assert "a JPEG, PNG, WebP or TIFF picture" in str(caught.value)


@given(st.integers(60, 2000))
def test_a_picture_cut_off_is_refused_or_read(length: int) -> None:
    data = file(300, 200, "JPEG")
    if length >= len(data):
        return
    with pytest.raises(JobError):
        small_photograph(data[:length], Path("a.jpg"))


def test_too_many_pixels_or_bytes_are_refused_before_they_are_opened(tmp_path: Path) -> None:
    out = io.BytesIO()
    Image.new("1", (10_000, 5_001)).save(out, "PNG")
    with pytest.raises(JobError, match="10000 × 5001 pixels"):
        small_photograph(out.getvalue(), Path("wide.png"))
    large = tmp_path / "large.jpg"
    with large.open("wb") as made:
        made.truncate(50_000_000)
    with pytest.raises(JobError, match="50 MB"):
        read_photograph(large)
    with pytest.raises(JobError, match=r"nothing\.jpg"):
        read_photograph(tmp_path / "nothing.jpg")
