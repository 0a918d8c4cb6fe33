"""A disc to be printed to its scale: the shape, a scale bar to check the print, or the mask for a film. SVG, in mm."""

from __future__ import annotations

import math

from ..cases.encoder_sensors import DiscResult
from ..model.encoder import EncoderSpec

HUB_SHARE, BAND_SHARE = 0.2, 0.3
"""Of the radius: the hole for the hub, and how deep a gap is cut from the rim."""
MARGIN_MM, BAR_MM, FOOT_MM = 10.0, 50.0, 22.0
MOST_TEETH = 720


def disc_svg(spec: EncoderSpec, disc: DiscResult, name: str, *, film: bool = False) -> str:
    """The drawing. ``film``: everything that shall be dark is filled, the gaps stay clear; else lines to cut along.

    ValueError with a sentence where the disc is not known yet or cannot be printed.
    """
    teeth, pitch, tooth = spec.teeth.value, disc.pitch.value, spec.tooth.value
    diameter = spec.disc_diameter.value
    if not teeth or not pitch or not tooth or not diameter:
        raise ValueError("Not known yet: the teeth, the diameter at the sensors and the width of a tooth.")
    if tooth >= pitch:
        raise ValueError("A tooth is as wide as the pitch: nothing is left for the gap.")
    if teeth > MOST_TEETH:
        raise ValueError(f"More than {MOST_TEETH} teeth are beyond what a printer draws.")
    radius = diameter * 1e3 / 2
    rim = radius * (1 + BAND_SHARE / 2)
    size = 2 * (rim + MARGIN_MM)
    half = size / 2
    shape = gaps(int(teeth), tooth / pitch, rim, radius * (1 - BAND_SHARE / 2))
    fill = 'fill="#000" fill-rule="evenodd"' if film else 'fill="none" stroke="#000" stroke-width="0.2"'
    foot = half + rim + MARGIN_MM
    bar = (
        f'<path d="M{-BAR_MM / 2:.3f} {foot:.3f}h{BAR_MM:.3f}m0 -2v4m{-BAR_MM:.3f} -4v4" fill="none" stroke="#000" '
        f'stroke-width="0.2"/>'
    )
    ring = f'<circle r="{radius:.3f}" fill="none" stroke="#888" stroke-width="0.1" stroke-dasharray="1 1"/>'
    words = f"{name}: {int(teeth)} teeth. Print at 100 %: this bar is {BAR_MM:g} mm long."
    whole = size + FOOT_MM
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{size:.3f}mm" height="{whole:.3f}mm" '
        f'viewBox="{-half:.3f} {-half:.3f} {size:.3f} {whole:.3f}">\n'
        f"<title>{_plain(words)}</title>\n"
        f'<path d="{shape}" {fill}/>\n{"" if film else ring}\n'
        f'<g transform="translate(0 {-half:.3f})">{bar}'
        f'<text y="{foot + 7:.3f}" font-size="3.5" text-anchor="middle" font-family="sans-serif">{_plain(words)}</text>'
        "</g>\n</svg>\n"
    )


def gaps(teeth: int, tooth: float, rim: float, floor: float) -> str:
    """The outline: a rim that is cut down to ``floor`` where a gap is, and the hub's hole."""
    step, pieces = 2 * math.pi / teeth, []
    for k in range(teeth):
        start, end, after = k * step, (k + tooth) * step, (k + 1) * step
        pieces.append(
            f"{'M' if k == 0 else 'L'}{_at(start, rim)}A{rim:.4f} {rim:.4f} 0 0 1 {_at(end, rim)}"
            f"L{_at(end, floor)}A{floor:.4f} {floor:.4f} 0 0 1 {_at(after, floor)}"
        )
    hub = rim * HUB_SHARE
    hole = f"M{hub:.4f} 0A{hub:.4f} {hub:.4f} 0 1 0 {-hub:.4f} 0A{hub:.4f} {hub:.4f} 0 1 0 {hub:.4f} 0Z"
    return "".join(pieces) + "Z" + hole


def _at(angle: float, radius: float) -> str:
    return f"{radius * math.cos(angle):.4f} {radius * math.sin(angle):.4f}"


def _plain(text: str) -> str:
    """Text that can stand in a drawing."""
    return "".join(c for c in text if c.isprintable()).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
