"""Every importer with something valid to spoil: bytes flipped, cut, doubled, put in. For tests and for the bench."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path

from hypothesis import strategies as st
from PIL import Image

from tests.conftest import BASE
from yarvel.exchange.archive import FORMAT, read_archive
from yarvel.exchange.drawer_file import read_drawer
from yarvel.exchange.job_file import read_job
from yarvel.exchange.photograph import read_photograph
from yarvel.exchange.stock_file import read_stock
from yarvel.figures.rules import HouseRules

RULES = HouseRules()
_SPITEFUL = [b"\0", b"\xff\xfe", b"NaN", b"1e999", b'"', b"\n", b"[" * 300, b"=1+1", b"\\ud800", b"-" * 40, b"9" * 400]


def job() -> bytes:
    return json.dumps(BASE).encode()


def stock() -> bytes:
    return b"code,made_for_mm,claw_mm,claws,height_mm,opening_mm\nA1,5.7,0.9,4,4.4,\nB2,6.4,1.0,6,4.9,4.8\n"


def drawer() -> bytes:
    return b"kind,code,metal,made_for_mm,size_mm,claws,claw_mm,height_mm,note\nhead,H1,18k-yellow,5.7,,4,0.9,4.4,\n"


def archive() -> bytes:
    out = io.BytesIO()
    docket = {
        "number": "26-0007",
        "state": "planned",
        "customer": "Otter & Quay",
        "job_document": BASE,
        "created_at": "2026-03-02T08:15:00",
        "updated_at": "2026-03-02T08:15:00",
    }
    history = [{"at": "2026-03-02T08:15:00", "by": "Bram", "field": "item", "before": "", "after": "ring"}]
    photographs = [{"at": "2026-03-02T08:15:00", "by": "Bram", "caption": "as it came"}]
    with zipfile.ZipFile(out, "w") as made:
        made.writestr("archive.json", json.dumps({"format": FORMAT, "dockets": ["a"]}))
        made.writestr("a/docket.json", json.dumps({"docket": docket, "history": history, "photographs": photographs}))
        made.writestr("a/photographs/01.jpg", photograph())
    return out.getvalue()


def photograph() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (40, 30), (90, 120, 30)).save(out, "JPEG")
    return out.getvalue()


IMPORTERS: dict[str, tuple[Callable[[], bytes], Callable[[Path], object]]] = {
    "job file": (job, lambda path: read_job(path, RULES)),
    "stock": (stock, lambda path: read_stock(path)),
    "drawer": (drawer, read_drawer),
    "archive": (archive, lambda path: read_archive(path, RULES)),
    "photograph": (photograph, read_photograph),
}


@st.composite
def spoiled(draw: st.DrawFn, whole: bytes) -> bytes:
    """What was valid, with up to four things done to it."""
    data = bytearray(whole)
    for _ in range(draw(st.integers(1, 4))):
        place = draw(st.integers(0, max(len(data) - 1, 0)))
        what = draw(st.sampled_from(("flip", "cut", "double", "put", "drop")))
        if what == "flip" and data:
            data[place] ^= 1 << draw(st.integers(0, 7))
        elif what == "cut":
            del data[place:]
        elif what == "double":
            data[place:place] = data[place : place + draw(st.integers(1, 60))]
        elif what == "put":
            data[place:place] = draw(st.sampled_from(_SPITEFUL) | st.binary(max_size=8))
        else:
            del data[place : place + draw(st.integers(1, 30))]
    return bytes(data)
