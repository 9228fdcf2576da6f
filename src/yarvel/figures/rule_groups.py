"""House rules by what they are about, as they are shown to be changed."""

from __future__ import annotations

GROUPS: dict[str, tuple[str, ...]] = {
    "Measuring the stone": ("gauge_", "out_of_", "proportions_", "weight_gap"),
    "Notch and seat": (
        "notch_",
        "first_cut_",
        "seat_room",
        "contact_",
        "bur_",
        "hart_",
        "lip_gap",
        "level_within",
    ),
    "Claws": (
        "claw_",
        "many_claws",
        "soft_claw",
        "splay_",
        "tip_",
        "bend_allowance",
        "file_allowance",
        "bend_radius",
        "handling_",
        "open_arc",
        "v_leg",
        "v_cover",
        "corner_relief",
        "relief_left",
    ),
    "Rings and galleries": ("ring_", "rings_apart", "groove_", "dome_drop"),
    "Collets and tubes": ("collet_", "tube_"),
    "Height, culet and foot": ("culet_", "foot_", "top_heavy", "neighbour_"),
    "Shank and fit": (
        "band_least",
        "let_",
        "wide_band",
        "saw_allowance",
        "beside_head",
        "gap_",
        "base_cut",
        "cut_square",
        "peg_",
        "hole_left",
        "below_ring",
        "point_sunk",
        "point_widest",
        "split_",
        "branch_",
        "bezel_notch",
        "slot_play",
        "worn_ends",
        "resize_",
    ),
    "Small stones in the shoulders": ("shoulder_",),
    "Pendants": ("chain_room", "hangs_"),
    "Solder, heat and species": ("solder_", "heat_", "coarse_wheel", "soft_stone"),
    "Wire, rolling and alloys": (
        "draw_",
        "point_and_tongs",
        "rod_least",
        "square_from",
        "roll_",
        "cast_melt",
        "cast_loss",
        "saw_kerf",
        "density_gap",
    ),
    "Repairs": ("retip_", "inspect_"),
    "Release": ("release_",),
    "Time, money and metal": ("hour_rate", "loss_allowance", "metal_loss", "markup", "tax_"),
}
"""Groups in the order of the work, each with how the names of its rules begin."""


def group_of(name: str) -> str:
    """The group of a rule; KeyError for one that no group has."""
    groups = [group for group, starts in GROUPS.items() if any(name.startswith(start) for start in starts)]
    if len(groups) != 1:
        raise KeyError(name)
    return groups[0]
