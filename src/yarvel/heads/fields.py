"""Fields of a head in the job: what each is called, and the figure that stands for it while nothing is given."""

from __future__ import annotations

from yarvel.heads.claws import LEAST_CLAWS, MOST_CLAWS, ORIENTATIONS
from yarvel.heads.field import HeadField
from yarvel.heads.rings import SECTIONS
from yarvel.heads.style import LEGS
from yarvel.heads.vees import FOLD_METHODS, MADE_FROM

_TURNED = dict(zip(ORIENTATIONS, ("In line", "Square"), strict=True))
FIELDS: dict[str, HeadField] = {
    field.name: field
    for field in (
        HeadField("cut", "Set as", choices=(("bezel", "Bezel"), ("claws", "Claws"))),
        HeadField("made_for_mm", "Made for", figure="head.made_for"),
        HeadField("made_for_width_mm", "Made for, width", figure="head.made_for_width"),
        HeadField("label_ct", "Sold by weight", "ct"),
        HeadField("opening_mm", "Opening", figure="head.inner_opening", typed=False),
        HeadField("claws", "Claws", choices=tuple((count, str(count)) for count in range(LEAST_CLAWS, MOST_CLAWS + 1))),
        HeadField("v_from", "Vs made", choices=tuple(MADE_FROM.items())),
        HeadField("v_foot_mm", "V at its foot", figure="head.v_foot"),
        HeadField("school", "School", choices=tuple(FOLD_METHODS.items())),
        HeadField(
            "stone_axis",
            "Stone's length",
            choices=(("along-finger", "Along the finger"), ("along-band", "Along the band")),
        ),
        HeadField("orientation", "Turned", choices=tuple(_TURNED.items())),
        HeadField("claw_mm", "Claw wire", figure="head.claw"),
        HeadField("splay_deg", "Splay", "°", figure="head.splay"),
        HeadField("included_angle_deg", "Included angle", "°", figure="head.included_angle"),
        HeadField("rings", "Rings", choices=((2, "Two"), (1, "One"), (0, "Crossed wires"))),
        HeadField("ring_section", "Ring's section", choices=tuple(SECTIONS.items())),
        HeadField("posts", "Claws stand", choices=(("grooved", "In filed grooves"), ("drilled", "In drilled holes"))),
        HeadField("legs", "Legs below", choices=((None, "As the fit asks"), *LEGS.items())),
        HeadField("ring_mm", "Ring wire", figure="head.ring_wire"),
        HeadField("ring_high_mm", "Strip, high", figure="head.ring_high"),
        HeadField("ring_drop_mm", "Ring below girdle", figure="head.ring_drop"),
        HeadField("ring_lift_mm", "Lower ring lifted", figure="head.ring_lift"),
        HeadField("wall_mm", "Wall", figure="head.wall"),
        HeadField("height_mm", "Height", figure="head.tube_length"),
        HeadField("height_tip_mm", "Foot to tip"),
        HeadField("foot_mm", "Foot, across"),
        HeadField("rail_mm", "Rail over the foot"),
        HeadField("trim_mm", "Trim the base by"),
        HeadField("notched", "Notches", choices=((False, "Still to be cut"), (True, "Cut already"))),
        HeadField("seated", "Seat", choices=((False, "Still to be cut"), (True, "Cut already"))),
    )
}
"""Fields that several styles share, in the order in which the window shows them. What only one style reads stands in
its own module (``OWN``)."""
