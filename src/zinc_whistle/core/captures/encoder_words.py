"""What a capture of an encoder means for its builder, in sentences, beside what the design expects."""

from __future__ import annotations

from collections.abc import Iterator

from .quadrature import ChannelFound, QuadratureFound

EVEN_DEG = 90.0
FAIR_DEG = 15.0
"""Nearer to 90° than this needs no mending (common practice, no source)."""
FAIR_DUTY = 0.1


def said(found: QuadratureFound, expected: float | None) -> list[str]:
    """Sentences, the gravest first. ``expected`` are the design's counts of a turn in ×4."""
    fine = "Nothing is wrong with it: phase, duty and counts are as they should be."
    return [*_troubles(found, expected)] or [fine]


def _troubles(found: QuadratureFound, expected: float | None) -> Iterator[str]:
    if not found.forward and not found.back:
        yield "Nothing was counted: turn the shaft while you record."
        return
    if found.illegal:
        first = f", first at {found.lost_at[0]:.4g} s" if found.lost_at else ""
        yield (
            f"Both channels changed at once {found.illegal} times{first}: two counts were lost each time, or a state "
            "is shorter than a sample. Record faster; if they stay, it turned too fast for the sensors."
        )
    if found.phase_deg is not None and not found.single and abs(found.phase_deg - EVEN_DEG) > FAIR_DEG:
        off = EVEN_DEG - found.phase_deg
        pitch = f", {abs(off) / 360:.3f} of the pitch {'further apart' if off > 0 else 'nearer together'}"
        apart = f"The channels are {found.phase_deg:.0f}° apart where 90° is ideal"
        yield f"{apart}: move one sensor by {abs(off):.0f}°{pitch}."
    for tooth in found.wrong_teeth:
        if found.single:
            yield (
                f"Tooth {tooth.place} is cut wrong: it is high over {tooth.phase_deg:.0f}° of its pitch where the "
                f"others are over {found.phase_deg or 0:.0f}°."
            )
            continue
        yield (
            f"Tooth {tooth.place} is cut wrong: its phase is {tooth.phase_deg:.0f}° where the others have "
            f"{found.phase_deg or 0:.0f}°."
        )
    for name, channel in _channels(found):
        if channel.bounces:
            yield f"Channel {name} bounces: {channel.bounces} pairs of edges are far too close together."
        if channel.duty is not None and abs(channel.duty - 0.5) > FAIR_DUTY:
            what = "wider teeth or a lower threshold" if channel.duty < 0.5 else "narrower teeth or a higher threshold"
            share = f"{channel.duty:.0%}".replace("%", " %")
            yield f"Channel {name} is high for {share} of the time: {what} would bring it to half."
    if found.counts_per_turn is not None and expected and abs(found.counts_per_turn - expected) > 0.5:
        edges = 2 if found.single else 4
        teeth_off = (found.counts_per_turn - expected) / edges
        yield (
            f"A turn gave {found.counts_per_turn:.1f} counts of ×{edges} where {expected:g} were expected: "
            f"{abs(teeth_off):.2g} teeth {'too many' if teeth_off > 0 else 'too few'}."
        )


def _channels(found: QuadratureFound) -> tuple[tuple[str, ChannelFound], ...]:
    return (("A", found.a),) if found.single else (("A", found.a), ("B", found.b))


def figures(found: QuadratureFound, volts: list[str]) -> list[tuple[str, str]]:
    """The figures of a capture as names and texts."""

    def channel(name: str, one: ChannelFound) -> tuple[str, str]:
        rate = "too short"
        if one.frequency_hz is not None and one.duty is not None:
            rate = f"{one.frequency_hz:.4g} Hz, high {one.duty:.0%}".replace("%", " %")
        return (f"Channel {name}", f"{rate}, {one.edges} edges, {one.bounces} bounces")

    phase = "no whole period" if found.phase_deg is None else f"{found.phase_deg:.1f}°"
    if found.phase_spread_deg is not None:
        phase += f", nine of ten within {found.phase_spread_deg:.1f}°"
    count = f"{found.count:+d}".replace("-", "−")
    made = [
        ("Counted, ×2" if found.single else "Counted, ×4", count.removeprefix("+") if found.single else count),
        ("Direction", found.direction),
        ("High, of a pitch" if found.single else "Phase", phase),
        *(channel(name, one) for name, one in _channels(found)),
        *([] if found.single else [("Both at once", f"{found.illegal} times")]),
    ]
    if found.counts_per_turn is not None:
        made.append(("Counts of a turn", f"{found.counts_per_turn:.2f} over {found.turns:.0f} turns"))
    if found.fastest_per_s is not None:
        made.append(("Fastest", f"{found.fastest_per_s:.4g} counts a second"))
    return [*made, *(("Levels", v) for v in volts)]
