"""Photographs that come in: looked at before they are opened, turned upright, made small enough to keep."""

from __future__ import annotations

import io
from pathlib import Path

from msgspec import Struct

from yarvel.exchange.reading import check_regular
from yarvel.figures.errors import JobError, Problem

MOST_BYTES = 40_000_000
MOST_PIXELS = 50_000_000
LONGEST = 1600
_ACCEPTED = (
    f"a JPEG, PNG, WebP or TIFF picture up to {MOST_BYTES // 1_000_000} MB and {MOST_PIXELS // 1_000_000} megapixels"
)
_KINDS = ("JPEG", "PNG", "WEBP", "TIFF")


class SmallPhotograph(Struct, frozen=True):
    """A JPEG of at most ``LONGEST`` pixels either way."""

    width: int
    height: int
    jpeg: bytes


def read_photograph(path: Path) -> SmallPhotograph:
    """Read a photograph and make it small.

    Raises
    ------
    JobError : it is no picture, too large in bytes or pixels, cut off, or cannot be read.
    """
    try:
        check_regular(path)
        if path.stat().st_size > MOST_BYTES:
            raise _refused(path, f"{path.stat().st_size / 1e6:.0f} MB")
        data = path.read_bytes()
    except OSError as error:
        raise _refused(path, error.strerror or "cannot be read") from error
    return small_photograph(data, path)


def small_photograph(data: bytes, path: Path) -> SmallPhotograph:
    """The same from the bytes of a file; ``path`` is only told in what is wrong."""
    from PIL import Image, ImageOps, UnidentifiedImageError

    if len(data) > MOST_BYTES:
        raise _refused(path, f"{len(data) / 1e6:.0f} MB")
    try:
        with Image.open(io.BytesIO(data), formats=_KINDS) as picture:
            width, height = picture.size
            if width * height > MOST_PIXELS:
                raise _refused(path, f"{width} × {height} pixels")
            picture.draft("RGB", (LONGEST, LONGEST))  # a JPEG is decoded small: a large one needs no room of its size
            upright = ImageOps.exif_transpose(picture).convert("RGB")
    except UnidentifiedImageError as error:
        raise _refused(path, "no picture that can be read") from error
    except (OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise _refused(path, f"a picture that is damaged or cut off ({error})") from error
    upright.thumbnail((LONGEST, LONGEST))
    upright.info.clear()  # comments, and whatever else a camera or somebody wrote into it, are no part of a docket
    out = io.BytesIO()
    upright.save(out, "JPEG", quality=85)
    return SmallPhotograph(*upright.size, out.getvalue())


def _refused(path: Path, wrong: str) -> JobError:
    return JobError([Problem(path.name, wrong, _ACCEPTED)])
