"""Groups of joints that are done together: their keys, what they are called, and how documents name them."""

from __future__ import annotations

SHANK_SEAM = "shank-seam"

GROUPS: dict[str, str] = {
    "ring-seam": "Ring seam, to lie under a claw",
    "upper-ring-seam": "Upper ring seam, to lie under a claw",
    "lower-ring-seam": "Lower ring seam, to lie under a claw",
    "claws-to-ring": "Claws to the ring",
    "claws-to-collet": "Claws to the collet",
    "claws-to-upper-ring": "Claws to the upper ring",
    "claws-to-lower-ring": "Claws to the lower ring",
    "v-folds": "Scored folds of the Vs",
    "collet-seam": "Collet seam (none where it is driven from seamless tube)",
    "strip-seam": "Seam of the strip",
    "point": "Claws at the point",
    "peg": "Legs to the peg",
    "crossing": "Wires where they cross",
    SHANK_SEAM: "Shank seam",
    "ends-to-head": "Shank ends to the head",
    "branches-to-bezel": "Branches to the head",
    "bezels": "Little bezels in the shoulders",
    "bail-seam": "Hanging ring's seam",
    "bail-to-head": "Hanging ring to the head",
    "bail-joint": "Bail's joint",
    "head-to-shank": "Head to shank",
}
"""Groups of joints that heads and fits have: a key that stays, and what it is called."""
_IN_DOCUMENTS = {
    "strip-seam": "collet-seam",
    "ends-to-head": "head-to-shank",
    "branches-to-bezel": "head-to-shank",
    "bail-seam": "bail",
    "bail-to-head": "bail",
    "bail-joint": "bail",
}
"""Groups that documents name by what they have in common."""
FORMER_NAMES: dict[str, str] = {
    "Upper ring seam, to lie under a claw": "upper-ring-seam",
    "Lower ring seam, to lie under a claw": "lower-ring-seam",
    "Claws to the upper ring": "claws-to-upper-ring",
    "Claws to the lower ring": "claws-to-lower-ring",
    "Scored folds of the Vs": "v-folds",
    "Collet seam (none where it is driven from seamless tube)": "collet-seam",
    "Seam of the strip": "collet-seam",
    "Claws at the point": "point",
    "Shank seam": SHANK_SEAM,
    "Shank ends to the head": "head-to-shank",
    "Branches to the bezel": "head-to-shank",
    "Little bezels in the shoulders": "bezels",
    "Hanging ring's seam": "bail",
    "Hanging ring to the head": "bail",
    "Head to shank": "head-to-shank",
}
"""By what groups were named in job files before they had keys: the key in documents. Never changed."""
GROUP_KEYS = tuple(dict.fromkeys(_IN_DOCUMENTS.get(group, group) for group in GROUPS))
"""Every key by which documents name a group."""


def key_of(group: str) -> str:
    """The key by which documents name a group, given its own key, a document's or a former name."""
    return FORMER_NAMES.get(group, _IN_DOCUMENTS.get(group, group))


def name_of(group: str) -> str:
    """What a group is called, within a sentence: without what is said of it behind a comma or in brackets."""
    name = GROUPS.get(group, group).split(",")[0].split(" (")[0]
    return name[0].lower() + name[1:]
