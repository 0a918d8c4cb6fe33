"""The candidate causes: which drives can have each, how often it is met, what it changes, and how it is mended.

How often is a weight beside the others (common practice, no source): joints and wires go before parts, parts before
motors.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import KW_ONLY, dataclass

from . import severity
from .healthy import Healthy
from .severity import PutIn


@dataclass(frozen=True, slots=True)
class Cause:
    """One thing that can be wrong. ``burns``: power on it does harm; ``again``: the steps to repeat when it is
    mended."""

    id: str
    name: str
    weight: float
    put_in: PutIn
    _: KW_ONLY
    mend: str
    again: tuple[str, ...] = ()
    can: Callable[[Healthy], bool] = lambda h: True
    burns: bool = False


POWERED = ("short", "rail", "no_load_a")
RUNS = ("direction", "no_load_a", "no_load_speed", "loaded")
CAUSES = (
    Cause(
        "fuse",
        "Fuse blown, or the source not joined",
        5,
        severity.fixed_to(supplied=0),
        mend="Find why it blew before a new one is put in: measure from supply to ground with the source off.",
        again=POWERED,
    ),
    Cause(
        "joint",
        "Dry joint or loose terminal in a motor lead",
        6,
        severity.plus_lead,
        mend="Solder it again, or tighten it; pull at each lead while the current is watched.",
        again=("winding", "stall", "loaded"),
    ),
    Cause(
        "open_lead",
        "A motor lead is off",
        6,
        severity.fixed_to(lead=0),
        mend="Join it, and hold it where it comes off the board: leads break at the solder.",
        again=("winding", *RUNS),
    ),
    Cause(
        "feed",
        "Bad contact or thin lead in the supply",
        5,
        severity.plus_source,
        mend="Feel for the warm place with the current flowing; thicker or shorter leads, a better terminal.",
        again=("sag", "loaded", "again"),
    ),
    Cause(
        "swapped",
        "The motor's leads are swapped",
        6,
        severity.fixed_to(turned=-1),
        mend="Swap them at one end.",
        again=("direction",),
    ),
    Cause(
        "ground",
        "No ground between controller and driver",
        4,
        severity.fixed_to(commanded=0, pulses=0),
        mend="Join the grounds at the driver; not through the programming lead.",
        again=("duty", *RUNS),
        can=lambda h: h.by_program,
    ),
    Cause(
        "line",
        "A line from controller to driver is off, or on another pin",
        5,
        severity.fixed_to(commanded=0, pulses=0),
        mend="Compare label by label with the harness, then by continuity.",
        again=("duty", "frequency", *RUNS),
        can=lambda h: h.by_program,
    ),
    Cause(
        "boot_pin",
        "A pin that decides how the controller starts is held: its program does not run",
        2,
        severity.fixed_to(commanded=0, pulses=0, count=0, lost_counts=1, contacts_lost=1),
        mend="Start it with that line off; then another pin for it, or a resistor that lets go at the start.",
        again=("proving", "duty", *RUNS),
        can=lambda h: h.by_program,
    ),
    Cause(
        "mixed",
        "Two of the driver's lines are mixed up",
        4,
        severity.mixed,
        mend="Change them over; look which is which at the driver, not by colour.",
        again=("duty", "direction"),
        can=lambda h: h.by_program and h.pulsed and h.two_way,
    ),
    Cause(
        "timer",
        "The timer was taken by something else in the program",
        3,
        severity.taken,
        mend="Let the library go, or move the pulses to a pin of another timer.",
        again=("frequency", "duty"),
        can=lambda h: h.by_program and h.pulsed,
    ),
    Cause(
        "floating",
        "A line has no pull-down",
        3,
        severity.floating,
        mend="A resistor of 10 kΩ to ground at the driver.",
        again=("rest",),
        can=lambda h: h.by_program,
    ),
    Cause(
        "dead",
        "The driver gives nothing: broken, or not enabled",
        4,
        severity.fixed_to(forward=0, back=0),
        mend="Look for an enable or sleep line, a jumper, its own logic supply; else another driver, and why it broke.",
        again=("short", "rest", *RUNS),
    ),
    Cause(
        "link",
        "The link or jumper that enables the driver is off, or on the wrong pins",
        3,
        severity.fixed_to(forward=0, back=0),
        mend="Enable, sleep, standby: each link against the board's own sheet.",
        again=("rest", *RUNS),
    ),
    Cause(
        "leg",
        "One switch of the bridge is open",
        2,
        severity.leg_dead,
        mend="Replace the switch or the driver; look at its gate resistor and solder first.",
        again=("short", *RUNS),
        can=lambda h: h.two_way and h.bridge,
    ),
    Cause(
        "stuck",
        "A switch is shorted: it conducts for ever",
        3,
        severity.switch_shorted,
        mend="Power off at the source. Replace "
        "switch or driver; then its diode and the gate's parts, which may have gone with it.",
        again=("short", "diode", *RUNS),
    ),
    Cause(
        "short",
        "A bridge of solder, or a part the wrong way round, from supply to ground",
        4,
        severity.shorted,
        mend="No power until it reads above 500 Ω: look along the board with a lamp, capacitors' stripes first.",
        again=POWERED,
        burns=True,
    ),
    Cause(
        "limit",
        "The bench supply's current limit stands too low",
        3,
        severity.too_low,
        mend="Raise the limit to the figure of the step, not further.",
        again=("no_load_a", "loaded"),
    ),
    Cause(
        "cell",
        "A dead cell in the pack",
        2,
        severity.dead_cell,
        mend="Measure each cell under load; replace the pack, not one cell of it.",
        again=("rail", "sag", "again"),
        can=lambda h: h.battery and h.cells > 1,
    ),
    Cause(
        "logic",
        "The controller's supply is too low",
        3,
        severity.times("logic", 0.1, 0.85),
        mend="What else hangs on it? Its own heat, its input, a short on the board.",
        again=("logic", "idle"),
        can=lambda h: "logic" in h.steps,
    ),
    Cause(
        "gate",
        "The gates' supply is too low: the switches are half on",
        3,
        severity.gate_weak,
        mend="Its regulator, its capacitor, its link; no load until it is right.",
        again=("gate_supply", "warm", "loaded"),
        can=lambda h: h.own_gates,
    ),
    Cause(
        "boot",
        "Bootstrap capacitor or its diode missing or open",
        3,
        severity.boot_gone,
        mend="Look at its diode's stripe, its capacitor's joint and that the lower switch conducts in each period.",
        again=("boot", *RUNS),
        can=lambda h: h.own_gates and h.bridge,
    ),
    Cause(
        "diode_gone",
        "The flyback diode is missing or open",
        3,
        severity.diode_gone,
        mend="Replace it before the next pulse; then the switch, which has taken its place.",
        again=("diode", "short"),
        can=lambda h: h.diode,
    ),
    Cause(
        "diode_back",
        "The flyback diode is the wrong way round",
        3,
        severity.diode_back,
        mend="Turn it; then measure it and the switch, which may both be gone.",
        again=("diode", "short"),
        can=lambda h: h.diode,
        burns=True,
    ),
    Cause(
        "diode_shorted",
        "The flyback diode is shorted",
        2,
        severity.diode_shorted,
        mend="Replace it by one for the full current and the bus.",
        again=("diode", "short"),
        can=lambda h: h.diode,
        burns=True,
    ),
    Cause(
        "brushes",
        "Worn brushes or a dirty commutator",
        3,
        severity.worn,
        mend="Turn it under low volts for a while; clean, or new brushes.",
        again=("winding", "no_load_a", "stall"),
    ),
    Cause(
        "turns",
        "Shorted turns in the winding",
        2,
        severity.shorted_turns,
        mend="Another motor: it will only get hotter.",
        again=("winding", "no_load_a", "no_load_speed", "stall"),
    ),
    Cause(
        "magnets",
        "Weakened magnets",
        1,
        severity.times("constant", 0.6, 0.85),
        mend="Another motor; and less than the current that weakened them.",
        again=("no_load_speed", "loaded"),
    ),
    Cause(
        "bearing",
        "Dry bearing, seized grease, or a bent shaft",
        4,
        severity.times("friction", 1.6, 5.0),
        mend="Oil, warmth, straight; measure again when it has run for a while.",
        again=("no_load_a", "no_load_speed", "loaded"),
    ),
    Cause(
        "held",
        "The shaft is blocked",
        3,
        severity.fixed_to(locked=1),
        mend="Power off; turn it by hand to find where it binds.",
        again=RUNS,
    ),
    Cause(
        "binds",
        "The load binds, or is heavier than told",
        5,
        severity.times("load", 1.5, 4.0),
        mend="Turn the mechanism by hand without its motor; align, oil, or give the load that it has.",
        again=("loaded", "warm"),
    ),
    Cause(
        "slips",
        "The coupling slips",
        4,
        severity.slipping,
        mend="A flat and a screw, a pin, or a tighter belt; a mark across it shows at once.",
        again=("counts", "loaded"),
    ),
    Cause(
        "sense_off",
        "The sense wire is off, or its input is held",
        3,
        severity.fixed_to(sense=0),
        mend="By continuity from the driver's SENSE to the pin.",
        again=("sense",),
        can=lambda h: h.sensed,
    ),
    Cause(
        "sense_ohm",
        "The wrong sense resistor, or a wrong gain",
        2,
        severity.sense_wrong,
        mend="Read its bands or its code; give the gain that is built.",
        again=("sense",),
        can=lambda h: h.sensed,
    ),
    Cause(
        "heat",
        "The driver does not get rid of its heat",
        2,
        severity.times("heat", 1.6, 4.0),
        mend="Paste, screw, air; another place in the box.",
        again=("warm",),
        can=lambda h: "warm" in h.steps,
    ),
    Cause(
        "channel",
        "An encoder channel is off, or the encoder has no supply",
        4,
        severity.fixed_to(count=0, lost_counts=1),
        mend="Volts at its supply, then each channel while it is turned by hand.",
        again=("counts", "direction"),
        can=lambda h: h.counted,
    ),
    Cause(
        "channels",
        "The encoder's channels are swapped",
        4,
        severity.fixed_to(count=-1),
        mend="Swap A and B at one end.",
        again=("counts", "direction"),
        can=lambda h: h.counted,
    ),
    Cause(
        "disc",
        "The encoder's disc or wheel slips",
        2,
        severity.slip_disc,
        mend="Fix it; then ten turns by hand once more.",
        again=("counts", "out_and_back"),
        can=lambda h: h.counted,
    ),
    Cause(
        "lost",
        "Counts get lost at speed",
        2,
        severity.few_lost,
        mend="Pull-ups, shorter or twisted leads, a faster way of counting: see Encoder.",
        again=("out_and_back",),
        can=lambda h: "out_and_back" in h.steps,
    ),
    Cause(
        "lit",
        "A light barrier's lamp is dead, or its gap is dirty",
        3,
        lambda h, s, c: severity.barrier(h, s, c, "lit"),
        mend="Its resistor and polarity; a camera sees infrared.",
        again=("barrier_lit", "counts"),
        can=lambda h: "barrier_lit" in h.steps,
    ),
    Cause(
        "stray",
        "Stray light in the light barrier",
        3,
        lambda h, s, c: severity.barrier(h, s, c, "dark"),
        mend="A cover, a black tube, a smaller pull-up.",
        again=("barrier_dark", "counts"),
        can=lambda h: "barrier_dark" in h.steps,
    ),
    Cause(
        "contact",
        "A button, limit or stop does not arrive, or is of the other kind",
        4,
        severity.fixed_to(contacts_lost=1),
        mend="Each contact alone: pressed and let go, at its pin.",
        again=("proving",),
        can=lambda h: "proving" in h.steps,
    ),
    Cause(
        "none", "Nothing of this list", 3, lambda h, s, c: None, mend="Measure the doubtful steps again, leads in hand."
    ),
)


def candidates(h: Healthy) -> tuple[Cause, ...]:
    """The causes that this drive can have."""
    return tuple(c for c in CAUSES if c.can(h))
