"""Archives: what goes out comes in again; hostile, damaged and foreign ones are refused whole."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import threading
import zipfile
from dataclasses import replace
from datetime import date, datetime
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from PIL import Image

from tests.patience import GIVE_UP_S
from tests.ready import Fill, blank, file_with
from yarvel.demo.scenario import fill
from yarvel.exchange.archive import FORMAT, Packed, read_archive, write_archive
from yarvel.exchange.photograph import small_photograph
from yarvel.figures.errors import JobError, YarvelError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.archive_store import Brought, CancelledError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store

RULES = HouseRules()


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 40), (200, 10, 10)).save(out, "PNG")
    return out.getvalue()


def with_demo(store: Store) -> None:
    fill(store, date(2031, 4, 9))
    store.edit(
        5,
        DocketEdit(
            job_patches=(),
            fields={"metal": "18k, acid", "weight_in_g": 4.2, "claw_chart": {"claws": [{"finding": "bent"}]}},
        ),
    )
    store.photographs.add(5, small_photograph(picture(), Path("a.png")), "as it came")


@pytest.fixture
def filling(request: pytest.FixtureRequest) -> Fill:
    return with_demo if "filled" in request.fixturenames else blank


@pytest.fixture
def filled(store: Store) -> Store:
    return store


def packed(store: Store, docket_id: int) -> Packed:
    return Packed(store.docket(docket_id), tuple(store.history(docket_id)), tuple(store.photographs.of(docket_id)))


@pytest.fixture
def archive(filled: Store, tmp_path: Path) -> Path:
    target = tmp_path / "five.zip"
    assert write_archive([packed(filled, 5)], target) == 1
    return target


def test_a_docket_goes_out_and_comes_in_elsewhere(filled: Store, archive: Path, tmp_path: Path) -> None:
    with zipfile.ZipFile(archive) as read:
        assert {name.split("/", 1)[-1] for name in read.namelist()} == {
            "archive.json",
            "docket.json",
            "photographs/01.jpg",
            "drawing.svg",
        }
        assert b"<svg" in read.read("31-0005/drawing.svg")
    other = Store(file_with(tmp_path / "other.sqlite"), clock=lambda: datetime(2032, 1, 5), by="Pim")
    unpacked = read_archive(archive, RULES)[0]
    assert other.archives.here_already([unpacked.docket]) == {}
    brought = other.archives.bring_in([unpacked])[0]
    mine = filled.docket(5)
    for name in ("number", "customer", "item", "promised_on", "job_document", "metal", "weight_in_g", "claw_chart"):
        assert getattr(brought, name) == getattr(mine, name), name
    told = other.history(brought.id)
    assert [change.field for change in told[:-1]] == [change.field for change in filled.history(5)]
    assert (told[-1].by, told[-1].after) == ("Pim", "brought in as 31-0005")
    assert other.photographs.of(brought.id)[0].caption == "as it came"
    assert other.archives.here_already([unpacked.docket]) == {0: "31-0005"}
    again = other.archives.bring_in([unpacked])[0]
    assert again.number == "32-0001", "its own number is taken"
    assert other.archives.here_already([unpacked.docket]) == {0: "31-0005"}
    other.close()


def test_a_whole_store_goes_out_from_the_command_line(filled: Store, store_path: Path, tmp_path: Path) -> None:
    filled.close()
    target = tmp_path / "all.zip"

    def run(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "yarvel.cli", "--store", str(store_path), "archive", *words],
            capture_output=True,
            text=True,
            timeout=GIVE_UP_S,
            check=False,
        )

    assert "10 dockets" in run(str(target)).stdout
    assert len(read_archive(target, RULES)) == 10
    assert "1 dockets" in run(str(target), "--docket", "31-0003").stdout
    missing = run(str(target), "--docket", "99-0001")
    assert missing.returncode == 2 and "no docket has the number" in missing.stderr


def rewritten(archive: Path, target: Path, change: dict[str, bytes | None]) -> Path:
    """The archive with some files replaced, added, or (None) taken away."""
    with zipfile.ZipFile(archive) as read, zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as made:
        for name in read.namelist():
            if name not in change:
                made.writestr(name, read.read(name))
        for name, data in change.items():
            if data is not None:
                made.writestr(name, data)
    return target


def docket_json(archive: Path, **changes: Any) -> bytes:
    with zipfile.ZipFile(archive) as read:
        document = json.loads(read.read("31-0005/docket.json"))
    document["docket"].update(changes)
    return json.dumps(document).encode()


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"../../etc/passwd": b"x"}, "leads out"),
        ({"/etc/passwd": b"x"}, "leads out"),
        ({"..\\x": b"x"}, "leads out"),
        ({"C:/x": b"x"}, "leads out"),
        ({"31-0005/bomb": b"\0" * 30_000_000}, "from almost nothing"),
        ({"archive.json": b"{}"}, "its format is"),
        ({"archive.json": None}, "is not in it"),
        ({"archive.json": json.dumps({"format": FORMAT, "dockets": ["../up"]}).encode()}, "names no dockets"),
        ({"31-0005/docket.json": b"[1]"}, "no JSON object"),
        ({"31-0005/docket.json": b"{"}, "no JSON"),
        ({"31-0005/photographs/01.jpg": b"no picture"}, "picture"),
        ({"31-0005/photographs/01.jpg": None}, "not whole"),
    ],
)
def test_hostile_and_damaged_archives_are_refused(
    change: dict[str, bytes | None], word: str, archive: Path, tmp_path: Path
) -> None:
    with pytest.raises(JobError, match=word):
        read_archive(rewritten(archive, tmp_path / "bad.zip", change), RULES)
    assert not (tmp_path / "etc").exists()


@pytest.mark.parametrize(
    ("field", "value", "word"),
    [
        ("state", "stolen", "state"),
        ("customer", 5, "a text is no text"),
        ("customer", "x" * 30_000, "at most 20,000"),
        ("promised_on", "soon", "a date, weight or price"),
        ("weight_in_g", "heavy", "a date, weight or price"),
        ("job_document", {}, "no job"),
        ("job_document", {"format": "yarvel-job/1", "stone": {"cut": "brick"}}, "brick"),
        ("ticks", 3, "not whole"),
        ("claw_chart", [1], "not whole"),
        ("number", None, "number"),
    ],
)
def test_what_a_docket_cannot_be_is_refused(field: str, value: Any, word: str, archive: Path, tmp_path: Path) -> None:
    data = docket_json(archive, **{field: value})
    with pytest.raises(JobError, match=word):
        read_archive(rewritten(archive, tmp_path / "bad.zip", {"31-0005/docket.json": data}), RULES)


_JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 5) | st.floats(allow_nan=False) | st.text(max_size=6),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=8,
)


@given(docket=_JSON, history=_JSON, data=st.binary(max_size=60))
def test_nothing_but_a_clear_refusal_comes_of_rubbish(
    docket: Any, history: Any, data: bytes, tmp_path_factory: pytest.TempPathFactory
) -> None:
    folder = tmp_path_factory.mktemp("rubbish")
    path = folder / "a.zip"
    with zipfile.ZipFile(path, "w") as made:
        made.writestr("archive.json", json.dumps({"format": FORMAT, "dockets": ["a"]}))
        made.writestr("a/docket.json", json.dumps({"docket": docket, "history": history}))
    with pytest.raises(YarvelError):
        read_archive(path, RULES)
    path.write_bytes(data)
    with pytest.raises(YarvelError):
        read_archive(path, RULES)


@pytest.mark.parametrize("cut", [0.02, 0.2, 0.5, 0.8, 0.98])
def test_an_archive_cut_off_is_refused(archive: Path, cut: float) -> None:
    data = archive.read_bytes()
    short = archive.with_name("short.zip")
    short.write_bytes(data[: int(len(data) * cut)])
    with pytest.raises(YarvelError):
        read_archive(short, RULES)


def test_what_is_read_is_plain_data(archive: Path) -> None:
    unpacked = read_archive(archive, RULES)
    assert isinstance(unpacked[0], Brought) and unpacked[0].docket.id == 0


def raw_archive(path: Path, document: str, method: int = zipfile.ZIP_DEFLATED) -> Path:
    with zipfile.ZipFile(path, "w", method) as made:
        made.writestr("archive.json", json.dumps({"format": FORMAT, "dockets": ["a"]}))
        made.writestr("a/docket.json", document)
    return path


@pytest.mark.parametrize(
    "document",
    [
        '{"docket": {"weight_in_g": 1' + "0" * 400 + "}}",
        '{"docket": {"weight_in_g": 1e999}}',
        '{"docket": {"weight_in_g": NaN}}',
        '{"docket": {"customer": "\\ud800"}}',
        '{"docket": {"customer": "a\\u0000b"}}',
        '{"docket": 3, "history": 4, "photographs": 5}',
        '{"docket": {"job_document": {"format": "yarvel-job/1", "stone": {"diameters_mm": "x"}}}}',
        "[" * 100_000,
        '{"docket": {}, "history": [3]}',
    ],
)
def test_wrong_types_and_impossible_numbers_get_a_clear_line(document: str, tmp_path: Path) -> None:
    with pytest.raises(JobError) as caught:
        read_archive(raw_archive(tmp_path / "a.zip", document), RULES)
    assert len(str(caught.value)) < 600 and "\n" not in str(caught.value)


@pytest.mark.parametrize("method", [zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2])
def test_a_bit_flipped_anywhere_gets_a_clear_line(method: int, archive: Path, tmp_path: Path) -> None:
    """zlib, LZMA and bz2 each have errors of their own."""
    with zipfile.ZipFile(archive) as read:
        document = read.read("31-0005/docket.json").decode().replace('"photographs": [', '"was": [')
    whole = raw_archive(tmp_path / "whole.zip", document, method)
    data = whole.read_bytes()
    assert len(read_archive(whole, RULES)) == 1
    for place in range(0, len(data), max(len(data) // 150, 1)):
        spoiled = bytearray(data)
        spoiled[place] ^= 0x41
        path = tmp_path / "spoiled.zip"
        path.write_bytes(spoiled)
        try:
            read_archive(path, RULES)
        except JobError as error:
            assert "\n" not in str(error)


def test_pipes_and_devices_are_not_read(tmp_path: Path) -> None:
    import os

    from yarvel.exchange.drawer_file import read_drawer
    from yarvel.exchange.job_file import read_job
    from yarvel.exchange.photograph import read_photograph
    from yarvel.exchange.stock_file import read_stock

    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    for path in (pipe, Path("/dev/zero"), tmp_path):
        for read in (
            lambda path: read_archive(path, RULES),
            lambda path: read_job(path, RULES),
            lambda path: read_stock(path),
            read_drawer,
            read_photograph,
        ):
            with pytest.raises(JobError):
                read(path)


@pytest.mark.parametrize(
    ("number", "kept"),
    [
        ("26-99999999", False),
        ("26-0100000", False),
        ("２６-0007", False),
        ("26-٠٠٠٧", False),
        ("26-4711", True),
        ("x", False),
    ],
)
def test_no_number_from_elsewhere_pushes_our_own(number: str, kept: bool, store: Store, archive: Path) -> None:
    brought = read_archive(archive, RULES)[0]
    made = store.archives.bring_in([structs.replace(brought, docket=replace(brought.docket, number=number))])[0]
    assert (made.number == number) is kept
    year = f"{store.now():%y}"
    assert len(store.new_docket().number) == len(f"{year}-0001")


KILLED_IMPORT = """
import os, signal, sys
from pathlib import Path
from yarvel.exchange.archive import read_archive
from yarvel.figures.rules import HouseRules
from yarvel.workshop.store import Store
store = Store(sys.argv[1])
brought = read_archive(Path(sys.argv[2]), HouseRules())
store.archives.bring_in(brought, lambda count: count == 7 and os.kill(os.getpid(), signal.SIGKILL))
"""


def test_an_import_that_is_killed_or_cancelled_brings_in_nothing(filled: Store, tmp_path: Path) -> None:
    target, place = tmp_path / "all.zip", tmp_path / "other.sqlite"
    write_archive((packed(filled, docket.id) for docket in filled.dockets()), target)
    done = subprocess.run([sys.executable, "-c", KILLED_IMPORT, str(place), str(target)], check=False)
    assert done.returncode == -9
    store = Store(place)
    assert store.dockets() == []
    brought, cancel = read_archive(target, RULES), threading.Event()
    with pytest.raises(CancelledError):
        store.archives.bring_in(brought, lambda count: cancel.set() if count == 3 else None, cancel)
    assert store.dockets() == []
    assert len(store.archives.bring_in(brought)) == 10
    assert len(store.archives.here_already([one.docket for one in brought])) == 10
    store.close()
