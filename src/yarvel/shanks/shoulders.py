"""Small rounds in the shoulders beside a centre head: flush in the band, or in little bezels let into it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Carving, LittleTube, SmallRounds
from yarvel.stones import round_brilliant

DIAMETER = FigureKey("shoulder.diameter")
COUNT = FigureKey("shoulder.count")

FLUSH, BEZEL, CARVED = "flush", "bezel", "carved"
SETTINGS = (FLUSH, BEZEL, CARVED)

HELD_IN = (BEZEL, CARVED)
"""Settings that stand round each stone as a wall of their own."""
NECK = FigureKey("shoulder.neck")


class Shoulders(Struct, frozen=True):
    """What a job says of its shoulders: so many stones of this diameter on each side."""

    count: int
    diameter_mm: float
    setting: str


@figure("shoulder.between", "Between neighbouring stones", "mm", "a", COMMON_PRACTICE, apart_mm="a")
def between_mm(apart_mm: Number) -> Number:
    """Metal in mm between two stones, and between the first and the centre head."""
    return apart_mm


@figure("shoulder.outer", "Little bezel, outside", "mm", "d + 2·l", FROM_MEMORY, diameter_mm="d", lip_mm="l")
def bezel_outer_mm(diameter_mm: Number, lip_mm: Number) -> Number:
    """Outside in mm of a little bezel: the stone and its lip on both sides."""
    return diameter_mm + 2 * lip_mm


@figure("shoulder.outer", "Carved bezel, outside", "mm", "d + 2·l", FROM_MEMORY, diameter_mm="d", lip_mm="l")
def carved_outer_mm(diameter_mm: Number, lip_mm: Number) -> Number:
    """Width in mm of a bezel that is carved out of the band: the stone and its wall on both sides."""
    return diameter_mm + 2 * lip_mm


@figure(
    "shoulder.wall",
    "Little bezel, wall of its tube",
    "mm",
    "l + k·d",
    FROM_MEMORY,
    lip_mm="l",
    share="k",
    diameter_mm="d",
)
def tube_wall_mm(lip_mm: Number, share: Number, diameter_mm: Number) -> Number:
    """Wall in mm of the tube: the lip outside the stone, and a ledge under its girdle."""
    return lip_mm + share * diameter_mm


@figure(
    "shoulder.let", "Little bezel, let in by", "mm", "min(i₀, k·t)", FROM_MEMORY, most_mm="i₀", share="k", thick_mm="t"
)
def let_mm(most_mm: Number, share: Number, thick_mm: Number) -> Number:
    """Depth in mm of the hole that a little bezel stands in; in a thin band a share of it, so that none reaches the
    finger."""
    return np.minimum(most_mm, share * thick_mm)


@figure(
    "shoulder.tube_length", "Little bezel, long", "mm", "s + l + i", FROM_MEMORY, sink_mm="s", lip_mm="l", let_mm="i"
)
def tube_length_mm(sink_mm: Number, lip_mm: Number, let_mm: Number) -> Number:
    """Length in mm of a little bezel: let into the band, and out of it by its seat and as much again as its lip."""
    return sink_mm + lip_mm + let_mm


@figure("shoulder.cut_down", "Cut down round the bezels by", "mm", "s + e", FROM_MEMORY, sink_mm="s", under_mm="e")
def cut_down_mm(sink_mm: Number, under_mm: Number) -> Number:
    """Depth in mm of the ground round carved bezels below their rims: the girdle, and wall under it."""
    return sink_mm + under_mm


@figure("shoulder.left_under", "Band left under the ground", "mm", "t − c", GEOMETRY, thickness_mm="t", down_mm="c")
def left_under_mm(thickness_mm: Number, down_mm: Number) -> Number:
    """Thickness in mm that the band keeps where it is cut down."""
    return thickness_mm - down_mm


@figure("shoulder.side_cut", "Side cuts, from each edge", "mm", "(w_b − n)/2", GEOMETRY, width_mm="w_b", neck_mm="n")
def side_cut_mm(width_mm: Number, neck_mm: Number) -> Number:
    """Depth in mm of the cuts from the band's edges between two bezels, down to the neck that joins them."""
    return np.maximum((width_mm - neck_mm) / 2, 0.0)


@figure("shoulder.pitch", "From middle to middle, along the band", "mm", "b + a", GEOMETRY, outer_mm="b", apart_mm="a")
def pitch_mm(outer_mm: Number, apart_mm: Number) -> Number:
    """Way in mm along the outside of the band from one stone's middle to the next."""
    return outer_mm + apart_mm


@figure(
    "shoulder.first",
    "First stone from the ring's middle, along the band",
    "mm",
    "R_o·asin(b_h/(2·R_o))·π/180 + a + b/2",
    GEOMETRY,
    radius_mm="R_o",
    head_mm="b_h",
    apart_mm="a",
    outer_mm="b",
)
def first_mm(radius_mm: Number, head_mm: Number, apart_mm: Number, outer_mm: Number) -> Number:
    """Way in mm along the outside of the band from under the centre stone to the first stone's middle."""
    half = np.minimum(head_mm / (2 * radius_mm), 0.99)
    return radius_mm * np.arcsin(half) + apart_mm + outer_mm / 2


@figure("shoulder.pilot", "Drill first", "mm", "k·d", FROM_MEMORY, share="k", diameter_mm="d")
def pilot_mm(share: Number, diameter_mm: Number) -> Number:
    """Diameter in mm of the first hole."""
    return share * diameter_mm


@figure(
    "shoulder.sink", "Sink the bur by, its teeth just hidden", "mm", "k·d", COMMON_PRACTICE, share="k", diameter_mm="d"
)
def sink_mm(share: Number, diameter_mm: Number) -> Number:
    """Depth in mm of a flush seat: seen from the side the bur's teeth are just hidden."""
    return share * diameter_mm


@figure("shoulder.culet_below", "Culet below the surface", "mm", "s + h_p", GEOMETRY, sink_mm="s", pavilion_mm="h_p")
def culet_below_mm(sink_mm: Number, pavilion_mm: Number) -> Number:
    """How deep in mm the culet lies; more than the band is thick, and the hole goes through."""
    return sink_mm + pavilion_mm


@figure("shoulder.beside", "Metal beside a stone", "mm", "(w_b − b)/2", GEOMETRY, width_mm="w_b", outer_mm="b")
def beside_mm(width_mm: Number, outer_mm: Number) -> Number:
    """Metal in mm that stays on each side of a stone across the band."""
    return (width_mm - outer_mm) / 2


@figure(
    "shoulder.last_angle",
    "Last stone, angle from the middle",
    "°",
    "(f + (n − 1)·p)/R_o·180/π",
    GEOMETRY,
    places=1,
    first_mm="f",
    count="n",
    pitch_mm="p",
    radius_mm="R_o",
)
def last_angle_deg(first_mm: Number, count: Number, pitch_mm: Number, radius_mm: Number) -> Number:
    """Angle in degrees round the finger from under the centre stone to the last stone's middle."""
    return np.degrees((first_mm + (count - 1) * pitch_mm) / radius_mm)


def enter(ledger: Ledger, asked: Shoulders, band: Band, head_width_mm: Number, rules: HouseRules) -> None:
    """Enter the figures of the shoulders; ``head_width_mm`` is the centre head's width along the band, mm, where
    it is widest: the stones must be reached beside it."""
    ledger.given(DIAMETER, "Small rounds", "mm", asked.diameter_mm, CHOSEN)
    ledger.given(COUNT, "On each side", "", float(asked.count), CHOSEN, places=0)
    apart = ledger.enter(between_mm, rules.shoulder_apart_mm)
    outer: Number = asked.diameter_mm
    if asked.setting in HELD_IN:
        of_it = bezel_outer_mm if asked.setting == BEZEL else carved_outer_mm
        outer = ledger.enter(of_it, asked.diameter_mm, rules.shoulder_lip_mm)
    pitch = ledger.enter(pitch_mm, outer, apart)
    first = ledger.enter(first_mm, band.outside_radius, head_width_mm, apart, outer)
    ledger.enter(pilot_mm, rules.shoulder_pilot_share, outer if asked.setting == BEZEL else asked.diameter_mm)
    sink = ledger.enter(sink_mm, rules.shoulder_sink_share, asked.diameter_mm)
    ledger.enter(culet_below_mm, sink, round_brilliant.TYPICAL_PAVILION * asked.diameter_mm)
    last = ledger.enter(last_angle_deg, first, float(asked.count), pitch, band.outside_radius)
    ends = [np.minimum(angle, 180.0) for angle in (np.degrees(first / band.outside_radius), last)]
    ledger.enter(beside_mm, np.minimum(band.width_at(ends[0]), band.width_at(ends[1])), outer)
    if asked.setting == BEZEL:
        thin = np.minimum(band.thickness_at(ends[0]), band.thickness_at(ends[1]))
        let = ledger.enter(let_mm, rules.shoulder_let_mm, rules.shoulder_let_share, thin)
        ledger.enter(tube_wall_mm, rules.shoulder_lip_mm, rules.shoulder_ledge_share, asked.diameter_mm)
        ledger.enter(tube_length_mm, sink, rules.shoulder_lip_mm, let)
    if asked.setting == CARVED:
        down = ledger.enter(cut_down_mm, sink, rules.shoulder_under_mm)
        ledger.enter(left_under_mm, np.minimum(band.thickness_at(ends[0]), band.thickness_at(ends[1])), down)
        if asked.count > 1:
            neck = ledger.given(NECK, "Left between two bezels", "mm", rules.shoulder_neck_mm, FROM_MEMORY)
            ledger.enter(side_cut_mm, np.maximum(band.width_at(ends[0]), band.width_at(ends[1])), neck)


def small_rounds(asked: Shoulders, figures: Mapping[FigureKey, float], band: Band) -> SmallRounds:
    """What drawings and bodies need of them, from the plan's finished figures."""
    first, pitch, between = (figures[key] for key in (first_mm, pitch_mm, between_mm))
    outer, radius = pitch - between, band.outside_radius
    tube, carving = None, None
    if asked.setting == BEZEL:
        tube = LittleTube(figures[tube_wall_mm], figures[tube_length_mm], figures[let_mm])
    if asked.setting == CARVED:
        last = first + (asked.count - 1) * pitch
        edges = (np.degrees((way + side * (outer / 2 + between)) / radius) for way, side in ((first, -1), (last, 1)))
        start, end = (float(np.clip(edge, 0.0, 175.0)) for edge in edges)
        carving = Carving(figures[cut_down_mm], figures.get(NECK, 0.0), start, end)
    angles = tuple(angles_deg(first, pitch, asked.count, radius))
    below = figures[culet_below_mm] - figures[sink_mm]
    bore = figures[pilot_mm]
    return SmallRounds(
        angles_deg=angles,
        stone_mm=asked.diameter_mm,
        sink_mm=figures[sink_mm],
        pavilion_mm=below,
        bore_mm=bore,
        outer_mm=outer,
        tube=tube,
        carving=carving,
    )


def seams(asked: Shoulders, alloy: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """Little bezels are let in and soldered before the head; flush seats have no joint."""
    if asked.setting != BEZEL:
        return []
    whole = np.pi * (figures[blanks.INSIDE_DIAMETER] + figures[blanks.THICKNESS])
    length = figures.get(blanks.blank_length_mm, float(whole))
    seams_found = []
    for number in range(asked.count):
        way = figures[first_mm] + number * figures[pitch_mm]
        seams_found += [
            Seam(
                what=f"little bezel {number + 1} on the {side}",
                grade="hard",
                group="bezels",
                metals=(alloy,),
                ends=((blanks.SHANK, spot),),
            )
            for side, spot in (("left", way), ("right", length - way))
        ]
    return seams_found


def angles_deg(first_mm: float, pitch_mm: float, count: int, radius_mm: float) -> list[float]:
    """Angles round the finger of all stones, both sides, 0 under the centre stone."""
    one_side = [float(np.degrees((first_mm + place * pitch_mm) / radius_mm)) for place in range(count)]
    return [-angle for angle in reversed(one_side)] + one_side
