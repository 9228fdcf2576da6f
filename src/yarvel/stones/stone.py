"""A measured stone: readings to proportions, measured or assumed."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from yarvel.figures.figure import ASSUMED, GEOMETRY, MEASURED, Ledger, Number, figure

MICRO_MM = 1e-9


@dataclass(frozen=True)
class Readings:
    """What the gauge gave, and what stands in for what it did not.

    Every number may be an array of samples. ``diameters`` has one entry a reading. Optional measures are
    None where they were not taken; ``table`` is a share of the diameter; the typical proportions are
    shares of the diameter too.
    """

    diameters: tuple[Number, ...]
    depth: Number | None
    table: Number
    crown_height: Number | None
    girdle: Number | None
    pavilion_depth: Number | None
    typical_crown: Number
    typical_girdle: Number
    typical_pavilion: Number
    table_measured: bool = False


@dataclass(frozen=True)
class Stone:
    """Proportions in mm (``table`` a share of the diameter); numbers or arrays of samples.

    Frame: z = 0 is the girdle's lower edge, up is +, the culet lies at z = −pavilion_depth.
    """

    diameter: Number
    depth: Number
    crown_height: Number
    girdle: Number
    pavilion_depth: Number
    table: Number


def plain(stone: Stone) -> Stone:
    """The same stone in plain floats."""
    return Stone(*(float(getattr(stone, item.name)) for item in fields(stone)))


@figure("stone.mean_diameter", "Mean diameter", "mm", "(D₁ + D₂)/2", GEOMETRY, largest="D₁", smallest="D₂")
def middle_diameter(largest: Number, smallest: Number) -> Number:
    """Mean of two readings, in mm."""
    return (largest + smallest) / 2


@figure("stone.mean_diameter", "Mean diameter", "mm", "Σd/n", GEOMETRY, total="Σd", count="n")
def mean_diameter(total: Number, count: Number) -> Number:
    """Mean of all diameter readings, in mm: it sizes the head."""
    return total / count


@figure("stone.out_of_round", "Out of round", "", "(D₁ − D₂)/D", GEOMETRY, places=3,
        largest="D₁", smallest="D₂", mean="D")
def out_of_round(largest: Number, smallest: Number, mean: Number) -> Number:
    """Spread of the diameter readings as a share of their mean."""
    return (largest - smallest) / mean


@figure("stone.depth", "Depth", "mm", "h_c + g + h_p", GEOMETRY, crown="h_c", girdle="g", pavilion="h_p")
def depth_from_parts(crown: Number, girdle: Number, pavilion: Number) -> Number:
    """Depth from table to culet, in mm, as the sum of its parts."""
    return crown + girdle + pavilion


@figure("stone.crown_height", "Crown height", "mm", "(d − g)·c/(c + p)", GEOMETRY,
        depth="d", girdle="g", crown="c", pavilion="p")
def crown_from_depth(depth: Number, girdle: Number, crown: Number, pavilion: Number) -> Number:
    """Crown height in mm: the crown's share of the depth less the girdle."""
    return (depth - girdle) * crown / (crown + pavilion)


@figure("stone.pavilion_depth", "Pavilion depth", "mm", "(d − g)·p/(c + p)", GEOMETRY,
        depth="d", girdle="g", crown="c", pavilion="p")
def pavilion_from_depth(depth: Number, girdle: Number, crown: Number, pavilion: Number) -> Number:
    """Pavilion depth in mm: the pavilion's share of the depth less the girdle."""
    return (depth - girdle) * pavilion / (crown + pavilion)


@figure("stone.crown_angle", "Crown angle", "°", "atan(2·h_c/(D·(1 − t)))", GEOMETRY, places=1,
        crown_height="h_c", diameter="D", table="t")
def crown_angle_deg(crown_height: Number, diameter: Number, table: Number) -> Number:
    """Angle of the crown mains from the girdle plane, in degrees."""
    return np.degrees(np.arctan(2 * crown_height / (diameter * (1 - table))))


@figure("stone.pavilion_angle", "Pavilion angle", "°", "atan(2·h_p/D)", GEOMETRY, places=1,
        pavilion_depth="h_p", diameter="D")
def pavilion_angle_deg(pavilion_depth: Number, diameter: Number) -> Number:
    """Angle of the pavilion mains from the girdle plane, in degrees."""
    return np.degrees(np.arctan(2 * pavilion_depth / diameter))


def measure(ledger: Ledger, readings: Readings) -> Stone:
    """Turn readings into proportions, entering each figure with its origin.

    A measured depth is kept: crown and pavilion, measured or typical, are scaled so that
    crown + girdle + pavilion equals it; where just one of the two was measured, the other takes the rest.
    """
    diameter = _diameters(ledger, readings.diameters)
    girdle_given = readings.girdle is not None
    girdle = readings.girdle if readings.girdle is not None else readings.typical_girdle * diameter
    ledger.given("stone.girdle", "Girdle", "mm", girdle, MEASURED if girdle_given else ASSUMED)
    ledger.given("stone.table", "Table, share of the diameter", "", readings.table,
                 MEASURED if readings.table_measured else ASSUMED)
    depth, crown, pavilion = _heights(ledger, readings, diameter, girdle)
    stone = Stone(diameter, depth, crown, girdle, pavilion, readings.table)
    ledger.enter(crown_angle_deg, crown, diameter, readings.table)
    ledger.enter(pavilion_angle_deg, pavilion, diameter)
    return stone


def _diameters(ledger: Ledger, diameters: tuple[Number, ...]) -> Number:
    if len(diameters) == 1:
        only = diameters[0]
        ledger.given("stone.mean_diameter", "Diameter", "mm", only, MEASURED)
        return only
    stacked = np.stack([np.asarray(reading, dtype=float) for reading in diameters])
    largest, smallest = stacked.max(axis=0), stacked.min(axis=0)
    if len(diameters) == 2:
        mean = ledger.enter(middle_diameter, largest, smallest)
    else:
        total: Number = sum(diameters[1:], diameters[0])
        mean = ledger.enter(mean_diameter, total, float(len(diameters)))
    ledger.given("stone.largest_diameter", "Largest diameter", "mm", largest, MEASURED)
    ledger.enter(out_of_round, largest, smallest, mean)
    return mean


def _heights(ledger: Ledger, readings: Readings, diameter: Number, girdle: Number) -> tuple[Number, Number, Number]:
    crown = readings.crown_height if readings.crown_height is not None else readings.typical_crown * diameter
    pavilion = readings.pavilion_depth if readings.pavilion_depth is not None else readings.typical_pavilion * diameter
    if readings.depth is None:
        _given_height(ledger, "stone.crown_height", "Crown height", crown, readings.crown_height)
        _given_height(ledger, "stone.pavilion_depth", "Pavilion depth", pavilion, readings.pavilion_depth)
        return ledger.enter(depth_from_parts, crown, girdle, pavilion), crown, pavilion
    depth = readings.depth
    ledger.given("stone.depth", "Depth", "mm", depth, MEASURED)
    if readings.crown_height is not None and readings.pavilion_depth is None:
        pavilion = np.maximum(depth - girdle - crown, MICRO_MM)
    elif readings.pavilion_depth is not None and readings.crown_height is None:
        crown = np.maximum(depth - girdle - pavilion, MICRO_MM)
    return (depth, ledger.enter(crown_from_depth, depth, girdle, crown, pavilion),
            ledger.enter(pavilion_from_depth, depth, girdle, crown, pavilion))


def _given_height(ledger: Ledger, key: str, label: str, value: Number, reading: Number | None) -> None:
    ledger.given(key, label, "mm", value, ASSUMED if reading is None else MEASURED)
