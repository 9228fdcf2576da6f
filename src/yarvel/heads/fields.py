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
        HeadField(name="cut", label="Set as", choices=(("bezel", "Bezel"), ("claws", "Claws"))),
        HeadField(name="made_for_mm", label="Made for", figure="head.made_for"),
        HeadField(name="made_for_width_mm", label="Made for, width", figure="head.made_for_width"),
        HeadField(name="label_ct", label="Sold by weight", unit="ct"),
        HeadField(name="opening_mm", label="Opening", figure="head.inner_opening", typed=False),
        HeadField(
            name="claws",
            label="Claws",
            choices=tuple((count, str(count)) for count in range(LEAST_CLAWS, MOST_CLAWS + 1)),
        ),
        HeadField(name="v_from", label="Vs made", choices=tuple(MADE_FROM.items())),
        HeadField(name="v_foot_mm", label="V at its foot", figure="head.v_foot"),
        HeadField(name="school", label="School", choices=tuple(FOLD_METHODS.items())),
        HeadField(
            name="stone_axis",
            label="Stone's length",
            choices=(("along-finger", "Along the finger"), ("along-band", "Along the band")),
        ),
        HeadField(name="orientation", label="Turned", choices=tuple(_TURNED.items())),
        HeadField(name="claw_mm", label="Claw wire", figure="head.claw"),
        HeadField(name="splay_deg", label="Splay", unit="°", figure="head.splay"),
        HeadField(name="included_angle_deg", label="Included angle", unit="°", figure="head.included_angle"),
        HeadField(name="rings", label="Rings", choices=((2, "Two"), (1, "One"), (0, "Crossed wires"))),
        HeadField(name="ring_section", label="Ring's section", choices=tuple(SECTIONS.items())),
        HeadField(
            name="posts",
            label="Claws stand",
            choices=(("grooved", "In filed grooves"), ("drilled", "In drilled holes")),
        ),
        HeadField(name="legs", label="Legs below", choices=((None, "As the fit asks"), *LEGS.items())),
        HeadField(name="ring_mm", label="Ring wire", figure="head.ring_wire"),
        HeadField(name="ring_high_mm", label="Strip, high", figure="head.ring_high"),
        HeadField(name="ring_drop_mm", label="Ring below girdle", figure="head.ring_drop"),
        HeadField(name="ring_lift_mm", label="Lower ring lifted", figure="head.ring_lift"),
        HeadField(name="wall_mm", label="Wall", figure="head.wall"),
        HeadField(name="height_mm", label="Height", figure="head.tube_length"),
        HeadField(name="height_tip_mm", label="Foot to tip"),
        HeadField(name="foot_mm", label="Foot, across"),
        HeadField(name="rail_mm", label="Rail over the foot"),
        HeadField(name="trim_mm", label="Trim the base by"),
        HeadField(name="notched", label="Notches", choices=((False, "Still to be cut"), (True, "Cut already"))),
        HeadField(name="seated", label="Seat", choices=((False, "Still to be cut"), (True, "Cut already"))),
    )
}
"""Fields that several styles share, in the order in which the window shows them. What only one style reads stands in
its own module (``OWN``)."""
