"""A drawing as SVG text, sized in mm so that it prints at 1:1."""

from __future__ import annotations

from html import escape

from yarvel.drawing.primitives import Drawing, Facets, Path, Text
from yarvel.drawing.styles import LINES, PRINT, shaded

_HATCHES = {
    "slant": ("M-0.5,0.5 l1,-1 M0,2 l2,-2 M1.5,2.5 l1,-1", 2.0),
    "cross": ("M-0.5,1.5 l1,1 M0,0 l2,2 M1.5,-0.5 l1,1", 2.0),
}


def svg_text(drawing: Drawing, palette: dict[str, str] = PRINT, title: str = "Yarvel bench sheet") -> str:
    """The whole drawing as one SVG document."""
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{drawing.width:g}mm" height="{drawing.height:g}mm" '
        f'viewBox="0 0 {drawing.width:g} {drawing.height:g}">',
        f"<title>{escape(title)}</title>",
        "<defs>" + "".join(_pattern(name, palette) for name in _HATCHES) + "</defs>",
        f'<rect width="100%" height="100%" fill="{palette["paper"]}"/>',
    ]
    for item in drawing.items:
        if isinstance(item, Facets):
            parts += [
                _path(
                    Path(
                        points=item.points[list(loop)],
                        stroke=item.stroke,
                        fill=item.fill,
                        closed=True,
                        hatch="",
                        shade=shade,
                    ),
                    palette,
                )
                for loop, shade in zip(item.loops, item.shades, strict=True)
            ]
        else:
            parts.append(_text(item, palette) if isinstance(item, Text) else _path(item, palette))
    return "\n".join([*parts, "</svg>", ""])


def _pattern(name: str, palette: dict[str, str]) -> str:
    lines, side = _HATCHES[name]
    return (
        f'<pattern id="{name}" width="{side}" height="{side}" patternUnits="userSpaceOnUse">'
        f'<path d="{lines}" stroke="{palette["hatch"]}" stroke-width="{LINES["hatch"].weight}" fill="none"/>'
        "</pattern>"
    )


def _path(path: Path, palette: dict[str, str]) -> str:
    points = " ".join(f"{x:.3f},{y:.3f}" for x, y in path.points)
    shape = f'<{"polygon" if path.closed else "polyline"} points="{points}"'
    colour = shaded(palette[path.fill], path.shade) if path.fill and path.fill in palette else "none"
    stroke = ' stroke="none"'
    if path.stroke and path.stroke in LINES:
        style = LINES[path.stroke]
        dash = f' stroke-dasharray="{" ".join(f"{part:g}" for part in style.dash)}"' if style.dash else ""
        stroke = (
            f' stroke="{palette[path.stroke]}" stroke-width="{style.weight}" stroke-linejoin="round"'
            f' stroke-linecap="round"{dash}'
        )
    drawn = f'{shape} fill="{colour}"{stroke}/>'
    if path.hatch:
        drawn += f'\n{shape} fill="url(#{path.hatch})" stroke="none"/>'
    return drawn


def _text(text: Text, palette: dict[str, str]) -> str:
    key = f' data-figure="{escape(text.key)}"' if text.key else ""
    weight = ' font-weight="bold"' if text.bold else ""
    return (
        f'<text x="{text.at[0]:.3f}" y="{text.at[1]:.3f}" font-family="B612, DejaVu Sans, sans-serif" '
        f'font-size="{text.size:g}" text-anchor="{text.anchor}" fill="{palette[text.role]}"{weight}{key}>'
        f"{escape(text.text)}</text>"
    )
