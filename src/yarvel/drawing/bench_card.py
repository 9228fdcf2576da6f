"""The bench card: one sheet of paper, both sides, with what is used at the bench and nothing else.

The front has the drawing, at true size too, the stone, the metal and what is set and measured; then the work begins and
goes on over the back, cautions once where they are needed, a box a line, the checks at its end. On A5 the letters are
as large, so that it takes two leaves of half the size.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from yarvel.drawing.bench_sheet import Heading, open_calls, tick_box, true_size
from yarvel.drawing.claw_chart import claw_chart
from yarvel.drawing.label import MARK, code_bars, modules
from yarvel.drawing.metrics import text_width
from yarvel.drawing.paper import A4, A5, shortened, wrapped
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.sheet import sheet
from yarvel.figures.figure import FigureKey
from yarvel.heads import heights, notches, seats
from yarvel.metals.alloys import alloy_of, shank_mass_g
from yarvel.operations.cautions import DEFER
from yarvel.planning.compute import species_of
from yarvel.planning.plan import HEAD_MASS, Plan
from yarvel.planning.weighing import weighed
from yarvel.route.card import metal_lines, sections
from yarvel.route.checks import checks
from yarvel.route.running import route_of
from yarvel.route.setting_words import bur_cuts
from yarvel.route.ways import repair_lines, repair_told
from yarvel.shanks import fitting, inset, sizes
from yarvel.stones.cuts import CUTS
from yarvel.stones.weight import WEIGHT_FORMULA
from yarvel.stones.words import words_of

_SET = 0.98
"""How much of a line's width text is broken to: widths of letters are rounded."""
_TOP = 21.0
_TEXT, _LINE, _QUIET, _QUIET_LINE = 2.8, 3.68, 2.5, 3.1
_BOX = 6.0
_CHART_HIGH = 40.0
_BEARS = {"bears": "borne", "care": "with care", "never": "never"}
_MODULE_MM, _BAR_MM = 0.33, 7.0


class _Lay(Struct, frozen=True, kw_only=True):
    """How a card is laid out on its paper: the paper, the margin at its sides, the drawing's room, where the columns of
    facts begin and how wide they are; mm. ``below`` says that they stand under the drawing and not beside it."""

    paper: tuple[float, float]
    margin: float
    drawn: tuple[float, float]
    columns: tuple[float, ...]
    column: float
    below: bool = False

    @property
    def wide(self) -> float:
        """From margin to margin."""
        return self.paper[0] - 2 * self.margin

    @property
    def low(self) -> float:
        """How far down lines may go."""
        return self.paper[1] - (5.0 if self.below else 8.0)

    @property
    def right(self) -> float:
        """Where the right margin begins."""
        return self.paper[0] - self.margin


_LAYS = {
    A4: _Lay(paper=A4, margin=12.0, drawn=(124.0, 125.0), columns=(139.0,), column=59.0),
    A5: _Lay(paper=A5, margin=8.0, drawn=(132.0, 125.0), columns=(8.0, 76.0), column=64.0, below=True),
}


def bench_card(plan: Plan, heading: Heading, paper: tuple[float, float] = A4) -> list[Drawing]:
    """The card's pages on a paper of ``paper.PAPERS``, by its width and height in mm (KeyError for another): on A4 two
    for a usual ring, more where the work is longer."""
    plan, lay = weighed(plan), _LAYS[paper]  # issue and balance are by the bodies
    run = _Run(lay)
    page = run.page
    _code(page, heading.number, lay)
    page.place(sheet(plan, *lay.drawn, grips=False), lay.margin, _TOP - 3.0)
    under = _TOP + lay.drawn[1] - 5.0
    low = _facts(page, plan, under + 2.0 if lay.below else _TOP + 3.0, lay)
    low = _chart(page, plan, low, lay)
    run.top = max(under, low)
    if _true_beside(page, plan, low, under, lay):
        run.top += _LINE  # clear of the drawing's scale
    else:
        _true(run, plan)
    _work(run, plan)
    for number, made in enumerate(run.pages, start=1):
        _head(made, heading, number, len(run.pages), lay)
    return run.pages


class _Run:
    """Lines that run on from page to page."""

    def __init__(self, lay: _Lay) -> None:
        self.lay = lay
        self.page = Drawing(*lay.paper)
        self.pages = [self.page]
        self.top = _TOP

    def room(self, high: float) -> None:
        """Go on with a new page where so much, mm, does not fit any more."""
        if self.top + high > self.lay.low:
            self.page = Drawing(*self.lay.paper)
            self.pages.append(self.page)
            self.top = _TOP + 1.0

    def line(self, text: str, *, bold: bool = False, left: float = 0.0) -> None:
        """One line of the work's size."""
        self.room(_LINE)
        self.page.text((self.lay.margin + left, self.top), text, _TEXT, bold=bold)
        self.top += _LINE

    def paragraph(self, text: str, *, left: float = 0.0, bold: bool = False) -> None:
        """A text broken to the page."""
        for piece in wrapped(text, _SET * (self.lay.wide - left), _TEXT):
            self.line(piece, left=left, bold=bold)

    def quiet_mm(self, text: str) -> float:
        """How high a smaller text is; 0 for none."""
        return len(self._quiet(text)) * _QUIET_LINE + 0.8 if text else 0.0

    def _quiet(self, text: str) -> list[str]:
        return wrapped(text, _SET * (self.lay.wide - _BOX), _QUIET)

    def quiet(self, text: str) -> None:
        """A smaller text: what hurts, once."""
        for piece in self._quiet(text):
            self.room(_QUIET_LINE)
            self.page.text((self.lay.margin + _BOX, self.top), piece, _QUIET, "start", "text-quiet")
            self.top += _QUIET_LINE
        self.top += 0.8

    def boxed_mm(self, text: str) -> float:
        """How high a line of the work is."""
        return len(self._boxed(text)) * _LINE

    def _boxed(self, text: str) -> list[str]:
        return wrapped(text, _SET * (self.lay.wide - _BOX), _TEXT)

    def boxed(self, text: str, box: bool = True) -> None:
        """A line of the work with its box, never torn apart."""
        pieces = self._boxed(text)
        self.room(len(pieces) * _LINE)
        if box:
            tick_box(self.page, self.lay.margin + 0.6, self.top)
        for piece in pieces:
            self.line(piece, left=_BOX)


def _head(page: Drawing, heading: Heading, number: int, count: int, lay: _Lay) -> None:
    """Whose, what, when; the first page leaves room for the code."""
    room = lay.wide - (44.0 if number == 1 and heading.number else 0.0)
    words = "  ·  ".join(word for word in (heading.number, heading.customer, heading.item) if word) or "Bench card"
    page.text((lay.margin, 11.5), shortened(words, room, 4.4, bold=True), 4.4, bold=True)
    when = "  ·  ".join(
        word
        for word in (
            f"promised {heading.promised}" if heading.promised else "",
            f"printed {heading.printed}" if heading.printed else "",
            f"page {number} of {count}",
        )
        if word
    )
    page.text((lay.margin, 15.9), shortened(when, room, _TEXT), _TEXT, "start", "text-quiet")
    page.line([(lay.margin, 17.6), (lay.right, 17.6)], "frame")


def _code(page: Drawing, number: str, lay: _Lay) -> None:
    """The label's code, to be scanned at the bench."""
    if number:
        bars = modules(f"{MARK}{number}")
        code_bars(page, bars, lay.right - len(bars) * _MODULE_MM, 8.6, _MODULE_MM, _BAR_MM)


def _facts(page: Drawing, plan: Plan, top: float, lay: _Lay) -> float:
    """Stone, metal, ring and seat, beside the drawing or in columns under it; returns where they end, mm."""
    groups = (
        ("Stone", _of_stone(plan)),
        ("Metal", _of_metal(plan)),
        ("Ring", _of_ring(plan)),
        ("Seat", _of_seat(plan)),
    )
    shares = (groups,) if len(lay.columns) == 1 else (groups[:1], groups[1:])
    return max(
        _column(page, [(title, [row for row in rows if row[1]]) for title, rows in share], left, top, lay.column)
        for share, left in zip(shares, lay.columns, strict=True)
    )


def _column(
    page: Drawing, groups: list[tuple[str, list[tuple[str, str]]]], left: float, top: float, width: float
) -> float:
    """Groups of facts, one under the other; returns where they end, mm."""
    for title, lines in groups:
        if not lines:
            continue
        page.text((left, top), title, 3.2, bold=True)
        top += _LINE + 0.4
        for word, value in lines:
            own = text_width(word, _TEXT) + 2.5 if word else 0.0
            for place, piece in enumerate(wrapped(value, width - own, _TEXT)):
                if place == 0 and word:
                    page.text((left, top), word, _TEXT, "start", "text-quiet")
                page.text((left + (width if word else 0.0), top), piece, _TEXT, "end" if word else "start")
                top += _LINE
        top += 1.4
    return top


def _chart(page: Drawing, plan: Plan, top: float, lay: _Lay) -> float:
    """A repair's claws from above, under the facts; returns where it ends, mm."""
    repair_note = repair_told(plan)
    if repair_note is None:
        return top
    left = lay.columns[0]
    page.text((left, top), "Claws, from above", 3.2, bold=True)
    page.place(claw_chart(plan, repair_note.claws, lay.column, _CHART_HIGH), left, top + 1.0)
    return top + _CHART_HIGH + 4.0


def _told(plan: Plan, *keys: FigureKey) -> str:
    """Figures that the plan has, one after another."""
    return " · ".join(plan.figures[key].text() for key in keys if key in plan.figures)


def _of_stone(plan: Plan) -> Iterable[tuple[str, str]]:
    stone, species = plan.job.stone, species_of(plan.job, plan.rules)
    yield "", f"{species.label}, {plan.facts.cut.label.lower()}"
    read = stone.diameters_mm or tuple(size for size in (stone.length_mm, stone.width_mm) if size)
    depth = f" × {float(plan.stone.depth_mm):.2f}{'' if stone.depth_mm else ' assumed'}"
    yield "size", " × ".join(f"{size:.2f}" for size in read) + depth + " mm"
    declared = stone.declared_ct
    yield "weight", f"about {_told(plan, WEIGHT_FORMULA)}" if declared is None else f"{declared:.2f} ct as declared"
    yield "", species.note
    for what, how in (("heat", species.heat), ("pickle", species.acid), ("ultrasonic", species.ultrasonic)):
        yield what, _BEARS[how]
    yield "steam", _BEARS[species.steam]


def _of_metal(plan: Plan) -> Iterable[tuple[str, str]]:
    job = plan.job
    head = alloy_of(job.head.metal, plan.rules).label
    yield "head", " ".join(word for word in (head, _told(plan, HEAD_MASS)) if word)
    if job.shank is not None:
        mass = _told(plan, shank_mass_g)
        yield "shank", " ".join(word for word in (alloy_of(job.shank.metal, plan.rules).label, mass) if word)


def _of_ring(plan: Plan) -> Iterable[tuple[str, str]]:
    shank, band = plan.job.shank, plan.band
    if shank is None or band is None:
        return
    yield "finger", f"{sizes.SYSTEMS[shank.size.system].label} {shank.size.value} · Ø {band.inside_diameter_mm:.2f} mm"
    yield "band", f"{band.width_mm:.2f} × {band.thickness_mm:.2f} mm, {band.profile}"
    yield "saw marks", _told(plan, inset.MARK_HALF, inset.MARK_HALF_OUTSIDE)


def _of_seat(plan: Plan) -> Iterable[tuple[str, str]]:
    words = words_of(CUTS[plan.job.stone.cut])
    yield "above the finger", _told(plan, fitting.PLANE_ABOVE_FINGER)
    if fitting.PLANE_ABOVE_FINGER not in plan.figures:
        yield f"{words.top} over the foot", _told(plan, heights.table_above_foot_mm)
    yield f"under the {words.low}", _told(plan, fitting.CULET_CLEARANCE)
    yield "dividers, from the tops", _told(plan, seats.line_from_top_mm)
    if not plan.job.head.seat_cut:
        yield "deep · left", _told(plan, notches.SEAT_DEPTH, notches.REMAINING)
        yield "open to", _told(plan, seats.seat_opening_mm)
        yield "burs", " → ".join(f"{size:.1f}" for size, _ in bur_cuts(plan))


def _true_beside(page: Drawing, plan: Plan, top: float, under: float, lay: _Lay) -> bool:
    """The true size under the facts, if there is room for it beside the drawing; whether there is."""
    true, left = true_size(plan, _CLOSE_MM), lay.columns[0]
    if lay.below or true.width > lay.column + 1.0 or top + _BAR_HIGH_MM + true.height > under:
        return False
    page.text((left, top), _TRUE, _QUIET, "start", "text-quiet")
    _bar(page, left, top + 4.2)
    page.place(true, left - 1.0, top + _BAR_HIGH_MM)
    return True


_TRUE, _CLOSE_MM, _BAR_HIGH_MM = "True size; this bar is 50 mm:", 4.0, 5.5


def _bar(page: Drawing, left: float, y: float) -> None:
    page.line([(left, y), (left + 50.0, y)], "cut")
    for tick in range(0, 51, 10):
        page.line([(left + tick, y), (left + tick, y - 1.6)], "dimension")


def _true(run: _Run, plan: Plan) -> None:
    """The true size with a bar to check the print by."""
    true, margin = true_size(plan), run.lay.margin
    run.room(true.height + 9.0)
    run.page.text((margin, run.top + 2.0), _TRUE, _QUIET, "start", "text-quiet")
    _bar(run.page, margin + text_width(_TRUE, _QUIET) + 3.0, run.top + 1.4)
    run.page.place(true, margin, run.top + 3.0)
    run.top += true.height + 6.5


def _work(run: _Run, plan: Plan) -> None:
    """Open calls, a repair's verdict, metal, the route, the checks."""
    route = route_of(plan)
    for open_call in open_calls(plan, route):
        run.paragraph(open_call)
    run.top += 1.0
    for place, open_call in enumerate(repair_lines(plan)):
        run.paragraph(open_call, bold=not place)
    run.paragraph(" ".join(metal_lines(route, plan, lambda key: alloy_of(key, plan.rules).label)))
    run.top += 1.2
    said: set[str] = set()
    for section in sections(route, plan):
        lines = [_fresh(line.text, said) for line in section.lines]
        run.room(_LINE + run.quiet_mm(section.caution) + run.boxed_mm(lines[0] if lines else ""))  # no heading alone
        run.line(f"{section.name} · {section.minutes:.0f} min", bold=True)
        if section.caution:
            run.quiet(section.caution)
        for line in lines:
            run.boxed(line)
        run.top += 0.5
    _checks(run, [row.text for row in checks(plan)])


def _fresh(text: str, told: set[str]) -> str:
    """A line without the sentences that this card has said before: of every joint the same is looked for."""
    first, *others = text.split(". ")
    kept = [first]
    again = False
    for sentence in others:
        plain = sentence.rstrip(".")
        if plain.startswith(_REPEATED) and len(plain) >= _LEAST_SENTENCE and plain in told:
            again = True
            continue
        told.add(plain)
        kept.append(sentence)
    left = ". ".join(kept).rstrip(".")
    return f"{left}. {_AGAIN}" if again else f"{left}."


_REPEATED = ("Look:", "Quench")
_LEAST_SENTENCE, _AGAIN = 30, "Look: as before."
"""``_REPEATED``, ``_AGAIN``: what is looked for at every joint, and how it goes on from there; figures and grades are
told every time."""


def _checks(run: _Run, rows: list[str]) -> None:
    """The checks before release in two columns, none of them torn, with who checked under them."""
    half = (run.lay.wide - 4.0) / 2
    broken = [wrapped(row, half - _BOX, _TEXT) for row in rows]
    first = broken[: (len(broken) + 1) // 2]
    high = max(sum(len(pieces) for pieces in part) for part in (first, broken[len(first) :])) * _LINE
    run.room(high + (3 if run.lay.below else 2) * _LINE + 0.6)
    run.line("Checks before release", bold=True)
    for place, part in enumerate((first, broken[len(first) :])):
        left, top = run.lay.margin + place * (half + 4.0), run.top
        for pieces in part:
            tick_box(run.page, left + 0.6, top)
            for piece in pieces:
                run.page.text((left + _BOX, top), piece, _TEXT)
                top += _LINE
    run.top += high + 0.6
    if not run.lay.below:
        run.page.text((run.lay.right, run.top), DEFER, _QUIET, "end", "text-quiet")
    run.line("Checked by                              Date")
    if run.lay.below:
        run.page.text((run.lay.right, run.top), DEFER, _QUIET, "end", "text-quiet")
