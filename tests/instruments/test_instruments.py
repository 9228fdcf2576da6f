"""Lines of instruments: read however they come, refused where they are none, and spoken by a process of their own."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
import tty
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from queue import Queue

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.patience import GIVE_UP_S
from yarvel.instruments import port
from yarvel.instruments.frame import LONGEST, QUIET_S, Frames
from yarvel.instruments.gate import TWICE_S, Gate
from yarvel.instruments.kinds import KINDS
from yarvel.instruments.port import PortEvent, Setting, heard, listen
from yarvel.instruments.reading import USUAL_PATTERN, NoReadingError, Reading, check_pattern, read
from yarvel.instruments.simulated import FAULTS, Instrument, Manner

lines = st.lists(st.text(st.characters(min_codepoint=33, max_codepoint=126), min_size=1, max_size=LONGEST), max_size=6)


@given(lines, st.sampled_from(["\r", "\n", "\r\n"]), st.data())
def test_lines_are_the_same_however_the_bytes_come(sent: list[str], end: str, data: st.DataObject) -> None:
    whole = "".join(line + end for line in sent).encode()
    frames, found, at = Frames(), [], 0
    while at < len(whole):
        step = data.draw(st.integers(1, 9))
        found += frames.feed(whole[at : at + step], at / 1000)
        at += step
    assert found == sent and frames.dropped == 0


@given(st.binary(max_size=400))
def test_noise_gives_no_line_that_is_none(noise: bytes) -> None:
    """And what comes after an end of line is read again."""
    frames = Frames()
    for line in frames.feed(noise, 0.0):
        assert line.isascii() and 0 < len(line) <= LONGEST and "\x00" not in line
    assert frames.feed(b"\r\n7.64 mm\r\n", 0.1)[-1] == "7.64 mm"


def test_half_a_line_is_forgotten() -> None:
    """A plug is pulled in the middle of 17.64; what comes next is not glued to it."""
    frames = Frames()
    assert frames.feed(b"17.", 0.0) == [] and frames.feed(b"7.64 mm\r\n", QUIET_S + 0.1) == ["7.64 mm"]
    assert frames.dropped == 1


LINES = ("7.64 mm\r\n", "17.64 mm\n", "-0.003 g\r", "26-0001\r\n")


@pytest.mark.parametrize("line", LINES)
def test_a_pause_at_any_byte_of_any_line_mends_nothing(line: str) -> None:
    """A port is looked at ten times a second, and mostly nothing has come: half a line grows old by that."""
    data = line.encode()
    for cut in range(1, len(data)):
        for pause in (QUIET_S + 0.05, 3.0, 3600.0):
            frames, at, lines = Frames(), 0.0, []
            lines += frames.feed(data[:cut], at)
            whole = bool(lines)
            while at < min(pause, 5.0):
                at += 0.1
                lines += frames.feed(b"", at)
            lines += frames.feed(b"7.64 mm\r\n", pause)
            assert lines == ([line.strip()] if whole else []) + ["7.64 mm"], (cut, pause)


@pytest.mark.parametrize("line", LINES)
def test_a_line_in_pieces_without_a_pause_is_whole(line: str) -> None:
    frames, at, lines = Frames(), 0.0, []
    for byte in line.encode():
        at += QUIET_S - 0.1
        lines += frames.feed(bytes([byte]), at)
        lines += frames.feed(b"", at + 0.05)
    assert lines == [line.strip()]


def test_half_a_line_over_a_real_port_grows_old(monkeypatch: pytest.MonkeyPatch) -> None:
    """Through the kernel: a pseudo-terminal, with a clock that the test sets."""
    controller, device = os.openpty()
    tty.setraw(device)
    clock, fed, came = [100.0], Queue[bytes](), Queue[PortEvent]()
    feed = Frames.feed

    def watched(frames: Frames, data: bytes, at: float) -> list[str]:
        lines = feed(frames, data, at)
        fed.put(data)
        return lines

    monkeypatch.setattr(Frames, "feed", watched)
    monkeypatch.setattr(port.time, "monotonic", lambda: clock[0])
    stop = threading.Event()
    gauge = KINDS["gauge"]
    thread = threading.Thread(target=listen, args=(gauge, Setting(port=os.ttyname(device)), stop, came.put))
    thread.start()
    assert came.get(timeout=GIVE_UP_S).open
    os.write(controller, b"1")
    while fed.get(timeout=GIVE_UP_S) != b"1":
        pass
    for _ in range(30):  # three seconds of nothing, as it looks
        clock[0] += 0.1
        while fed.get(timeout=GIVE_UP_S) != b"":
            pass
    os.write(controller, b"7.64 mm\r\n")
    reading = came.get(timeout=GIVE_UP_S).reading
    assert reading is not None and reading.value == 7.64, "never 17.64"
    stop.set()
    thread.join(GIVE_UP_S)
    os.close(controller)
    os.close(device)


@pytest.mark.parametrize(
    ("pattern", "line"),
    [
        (r"(?P<value>\d+)?\s*mm", "mm"),
        (r"(?P<value>.*)", "seven"),
        (r"(?P<value>\s*)x", "  x"),
        (r"(?P<value>[\d.]+)", "7.6.4"),
    ],
)
def test_a_pattern_that_finds_no_number_ends_nothing(pattern: str, line: str) -> None:
    check_pattern(pattern)
    with pytest.raises(NoReadingError, match="Accepted"):
        read(line, "mm", pattern)


def test_a_pattern_that_would_keep_a_window_waiting_is_not_kept() -> None:
    forever = r"(?P<value>(?:a|aa)+)b"
    with pytest.raises(NoReadingError, match="takes too long"):
        check_pattern(forever)
    with pytest.raises(NoReadingError, match="takes too long"):  # kept by an earlier Yarvel
        read("a" * 500 + "!", "mm", forever)


@pytest.mark.parametrize("pattern", [r"(?P<value>(?:a+)+)b", r"(?P<value>(?:\d+)+)x", r"(?:\s*|\d)*(?P<value>\d+)!{9}"])
def test_repeats_within_repeats_are_answered(pattern: str) -> None:
    """Half a minute each on thirty letters with what looks back at every step."""
    check_pattern(pattern)
    for line in ("a" * 80, "1" * 80, " " * 79 + "!"):
        with pytest.raises(NoReadingError):
            read(line, "mm", pattern)


@pytest.mark.parametrize(
    ("line", "unit", "value", "shown", "text"),
    [
        ("7.64 mm", "mm", 7.64, 0.01, "7.64"),
        ("+007,640mm", "mm", 7.64, 0.001, "7.640"),
        ("0.3008 in", "mm", 7.64032, 0.00254, "7.640"),
        ("  12.345  g ", "g", 12.345, 0.001, "12.345"),
        ("0.3048 g", "ct", 1.524, 0.0005, "1.5240"),
        ("1.52", "ct", 1.52, 0.01, "1.52"),
        ("2 DWT", "g", 3.11034768, 1.55517384, "3"),
        ("1500 mg", "g", 1.5, 0.001, "1.500"),
    ],
)
def test_a_line_is_a_value_a_unit_and_a_resolution(line: str, unit: str, value: float, shown: float, text: str) -> None:
    """An inch is 25.4 mm, a metric carat 0.2 g, by definition; a pennyweight 1.555 17 g (NIST Handbook 44)."""
    found = read(line, unit).into(unit)
    assert found.value == pytest.approx(value) and found.resolution == pytest.approx(shown) and found.text() == text


@pytest.mark.parametrize("line", ["", "mm", "7.6.4 mm", "7.64 parsecs", "ERR", "7.64 mm 3", "--7 mm"])
def test_what_is_no_reading_says_what_is_accepted(line: str) -> None:
    with pytest.raises(NoReadingError, match="Accepted"):
        read(line, "mm")


def test_a_pattern_of_ones_own() -> None:
    """Another make's line, with the value in the middle."""
    pattern = r"N\s+(?P<value>[\d.]+)\s(?P<unit>\w+)\sS"
    check_pattern(pattern)
    assert read("N   3.210 g S", "g", pattern).value == 3.21
    for wrong in ("(", r"\d+"):
        with pytest.raises(NoReadingError, match="Accepted"):
            check_pattern(wrong)


def test_only_what_counts_is_let_through() -> None:
    gate = Gate("mm", 0.05, 200.0)
    once = Reading(7.64, "mm", 0.01)
    assert gate.let(once, 1.0) == once
    assert gate.let(once, 1.0 + TWICE_S / 2) is None, "sent twice"
    assert gate.let(once, 2.0) == once, "and read again on purpose"
    assert gate.let(Reading(7.5, "mm", 0.01, settled=False), 3.0) is None
    for wrong in (Reading(900, "mm", 1), Reading(0.0, "mm", 0.01), Reading(3.0, "g", 0.1)):
        with pytest.raises(NoReadingError):
            gate.let(wrong, 4.0)


@pytest.mark.parametrize("fault", FAULTS)
@pytest.mark.parametrize("key", [key for key, kind in KINDS.items() if kind.unit])
def test_every_fault_is_handled(key: str, fault: str) -> None:
    """A made-up instrument with each fault: one reading, or none; never a wrong one."""
    kind, made = KINDS[key], Instrument(KINDS[key], Manner(fault=fault))
    frames, gate = Frames(), Gate(kind.unit, kind.low, kind.high)
    readings = []
    for place, value in enumerate(("3.21", "4.32")):
        at = 10.0 * place
        for line in made.lines(value):
            for whole in frames.feed(line, at):
                readings += [told.reading for told in heard(whole, kind, USUAL_PATTERN, gate, at) if told.reading]
    values = [reading.into(kind.unit).value for reading in readings]
    assert values == ([] if fault in ("half", "silent") else pytest.approx([3.21, 4.32], abs=0.0013))


# --- over a pseudo-terminal, with a process of its own -------------------------------------------------------------


class Played:
    """A made-up instrument's process, and what a listener at its port was told."""

    def __init__(self, link: Path, *arguments: str) -> None:
        self.link = link
        self._arguments = arguments
        self.told: Queue[PortEvent] = Queue()
        self.plug_in()

    def plug_in(self) -> None:
        """Start it."""
        command = [sys.executable, "-m", "yarvel.cli", "simulate", *self._arguments, "--link", str(self.link)]
        self.process = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        assert self.process.stdout.readline().strip() == str(self.link)

    def put(self, what: str) -> None:
        """Something under it."""
        assert self.process.stdin is not None
        self.process.stdin.write(what + "\n")
        self.process.stdin.flush()

    def pull(self) -> None:
        """The plug is pulled."""
        self.process.kill()
        self.process.wait()
        for pipe in (self.process.stdin, self.process.stdout):
            if pipe is not None:
                pipe.close()

    def next(self) -> PortEvent:
        """What was told next."""
        return self.told.get(timeout=GIVE_UP_S)


@contextmanager
def played(link: Path, *arguments: str) -> Iterator[Played]:
    instrument, stop = Played(link, *arguments), threading.Event()
    kind = KINDS["gram-scale" if arguments[0] == "scale" else arguments[0]]
    thread = threading.Thread(target=listen, args=(kind, Setting(str(link)), stop, instrument.told.put))
    thread.start()
    try:
        assert instrument.next().open
        yield instrument
    finally:
        stop.set()
        thread.join()
        instrument.pull()


def test_a_gauge_is_heard_unplugged_and_heard_again(tmp_path: Path) -> None:
    with played(tmp_path / "gauge", "gauge") as gauge:
        for size in ("7.64", "7.66"):
            gauge.put(size)
            reading = gauge.next().reading
            assert reading is not None and reading.value == float(size) and reading.resolution == 0.01
        gauge.pull()
        problem = gauge.next().problem
        assert problem and "does not answer: is it plugged in" in problem and str(gauge.link) in problem
        gauge.link.unlink(missing_ok=True)
        gauge.plug_in()
        assert gauge.next().open
        gauge.put("5.01")
        reading = gauge.next().reading
        assert reading is not None and reading.value == 5.01


def test_a_scale_that_moves_is_waited_for(tmp_path: Path) -> None:
    with played(tmp_path / "scale", "scale", "--fault", "moving") as scale:
        scale.put("12.5")
        reading = scale.next().reading
        assert reading is not None and reading.value == 12.5 and reading.settled


def test_noise_and_drift_are_as_asked(tmp_path: Path) -> None:
    kind = KINDS["gauge"]
    noisy = Instrument(kind, Manner(noise=0.02, seed=3))
    read_back = [read(noisy.lines("6.11")[0].decode().strip(), "mm").value for _ in range(400)]
    mean = sum(read_back) / len(read_back)
    spread = (sum((value - mean) ** 2 for value in read_back) / len(read_back)) ** 0.5
    assert mean == pytest.approx(6.11, abs=0.004) and spread == pytest.approx(0.02, rel=0.15)
    drifting = Instrument(kind, Manner(drift=0.1))
    assert [read(drifting.lines("3")[0].decode().strip(), "mm").value for _ in range(3)] == [3.0, 3.1, 3.2]


def test_a_port_that_is_not_there_is_told_once(tmp_path: Path) -> None:
    told: Queue[PortEvent] = Queue()
    stop = threading.Event()
    tell: Callable[[PortEvent], None] = told.put
    setting = Setting(str(tmp_path / "nothing"))
    thread = threading.Thread(target=listen, args=(KINDS["gauge"], setting, stop, tell))
    thread.start()
    first = told.get(timeout=GIVE_UP_S)
    stop.set()
    thread.join()
    assert "does not answer" in first.problem and told.empty()


def test_a_name_that_cannot_be_is_refused(tmp_path: Path) -> None:
    where = "/proc/gauge" if os.access("/proc", os.W_OK) else "/gauge"
    command = [sys.executable, "-m", "yarvel.cli", "simulate", "gauge", "--link", where]
    done = subprocess.run(command, input="", capture_output=True, text=True)
    assert done.returncode == 2 and "a folder that can be written to" in done.stderr
