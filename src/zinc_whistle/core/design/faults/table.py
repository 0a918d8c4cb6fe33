"""The candidate causes: which drives can have each, how often it is met, what it changes, and how it is mended.

How often is a weight beside the others (common practice, no source): joints and wires go before parts, parts before
motors. Severities are drawn over what is met, not one typical value each.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from .healthy import Healthy
from .state import FLOATING_SHARE, OVER_RANGE, BenchState, Draws

PutIn = Callable[[Healthy, BenchState, np.random.Generator], None]


@dataclass(frozen=True, slots=True)
class Cause:
    """One thing that can be wrong. ``burns``: power on it does harm; ``again``: the steps to repeat when it is
    mended."""

    id: str
    name: str
    weight: float
    put_in: PutIn
    mend: str
    again: tuple[str, ...] = ()
    can: Callable[[Healthy], bool] = lambda h: True
    burns: bool = False


def _log(chance: np.random.Generator, s: BenchState, low: float, high: float) -> Draws:
    return np.exp(chance.uniform(np.log(low), np.log(high), len(s.emf_v)))


def _even(chance: np.random.Generator, s: BenchState, low: float, high: float) -> Draws:
    return chance.uniform(low, high, len(s.emf_v))


def _set(**values: float) -> PutIn:
    """Fields set to one value each."""

    def put_in(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
        for name, value in values.items():
            setattr(s, name, np.full(len(s.emf_v), value))

    return put_in


def _times(name: str, low: float, high: float) -> PutIn:
    """A field times a factor between two."""

    def put_in(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
        setattr(s, name, getattr(s, name) * _log(chance, s, low, high))

    return put_in


def _plus_lead(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.lead_ohm = s.lead_ohm + h.motor_ohm * _log(chance, s, 0.4, 6.0)


def _plus_source(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """From what costs a tenth of the volts at work to what costs half of them."""
    s.source_ohm = s.source_ohm + h.flat_v / max(h.working_a, 1e-3) * _log(chance, s, 0.1, 0.6)


def _dead_cell(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    left = 1 - _even(chance, s, 0.8, 1.1) / h.cells
    s.emf_v, s.near_v = s.emf_v * left, s.near_v * left


def _too_low(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.limit_a = h.working_a * _log(chance, s, 0.2, 0.9)


def _short(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.short_ohm = _log(chance, s, 0.05, 4.0)


def _leg_dead(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """An upper or a lower switch of either leg: one way is left."""
    ahead = chance.random(len(s.emf_v)) < 0.5
    s.forward, s.back = np.where(ahead, 0.0, 1.0), np.where(ahead, 1.0, 0.0)


def _switch_shorted(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.stuck = np.ones(len(s.emf_v))
    s.back = np.zeros(len(s.emf_v))


def _worn(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.winding = s.winding * _log(chance, s, 1.6, 8.0)
    s.own["no_load_a"] = s.own.get("no_load_a", np.ones(len(s.emf_v))) * _even(chance, s, 0.8, 1.15)


def _shorted_turns(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    left = _even(chance, s, 0.55, 0.85)
    s.winding, s.constant = left, left
    s.friction = _log(chance, s, 1.3, 2.5)


def _slipping(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.slips = np.ones(len(s.emf_v))


def _floating(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.rest = _even(chance, s, 0.22, 1.5 * FLOATING_SHARE)
    s.floats = (chance.random(len(s.emf_v)) < 0.4).astype(float)


def _taken(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """Another pace, most often far from the planned one; the duty is then of another top."""
    s.frequency = np.where(chance.random(len(s.emf_v)) < 0.5, _log(chance, s, 0.01, 0.5), _log(chance, s, 1.5, 4.0))
    s.duty = _even(chance, s, -0.4, 0.4)


def _mixed(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    """The pulses stand on the line for the way: where they should be there is a level, and it runs full or not."""
    s.pulses = np.zeros(len(s.emf_v))
    s.forward = np.where(chance.random(len(s.emf_v)) < 0.5, 0.0, 1.0)
    s.by_hand = np.full(len(s.emf_v), 2.0)


def _gate_weak(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.gate = _even(chance, s, 0.2, 0.75)
    s.bridge_ohm = s.bridge_ohm * _log(chance, s, 4.0, 40.0)


def _boot_gone(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.boot = _even(chance, s, 0.0, 0.5)
    s.forward = np.zeros(len(s.emf_v))
    s.by_hand = np.where(chance.random(len(s.emf_v)) < 0.5, 0.0, 2.0)


def _slip_disc(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.count = _even(chance, s, 0.15, 0.95)
    s.lost_counts = np.ones(len(s.emf_v))


def _few_lost(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.lost_counts = np.where(chance.random(len(s.emf_v)) < 0.5, 1.0, -1.0) * _log(chance, s, 0.2, 3.0)


def _diode_back(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v, s.driven_short = np.full(len(s.emf_v), OVER_RANGE), _even(chance, s, 0.3, 1.0)


def _diode_gone(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v = np.full(len(s.emf_v), OVER_RANGE)
    s.heat = s.heat * _log(chance, s, 2.0, 6.0)


def _diode_shorted(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.diode_v, s.driven_short = _even(chance, s, 0.0, 0.05), _even(chance, s, 0.02, 0.6)


def _sense_wrong(h: Healthy, s: BenchState, chance: np.random.Generator) -> None:
    s.sense = np.where(chance.random(len(s.emf_v)) < 0.5, _log(chance, s, 1.7, 3.0), _log(chance, s, 0.3, 0.6))


POWERED = ("short", "rail", "no_load_a")
RUNS = ("direction", "no_load_a", "no_load_speed", "loaded")
CAUSES = (
    Cause("fuse", "Fuse blown, or the source not joined", 5, _set(supplied=0), "Find why it blew before a new one is "
          "put in: measure from supply to ground with the source off.", POWERED),
    Cause("joint", "Dry joint or loose terminal in a motor lead", 6, _plus_lead, "Solder it again, or tighten it; pull "
          "at each lead while the current is watched.", ("winding", "stall", "loaded")),
    Cause("open_lead", "A motor lead is off", 6, _set(lead=0), "Join it, and hold it where it comes off the board: "
          "leads break at the solder.", ("winding", *RUNS)),
    Cause("feed", "Bad contact or thin lead in the supply", 5, _plus_source, "Feel for the warm place with the current "
          "flowing; thicker or shorter leads, a better terminal.", ("sag", "loaded", "again")),
    Cause("swapped", "The motor's leads are swapped", 6, _set(turned=-1), "Swap them at one end.", ("direction",)),
    Cause("ground", "No ground between controller and driver", 4, _set(commanded=0, pulses=0), "Join the grounds at "
          "the driver; not through the programming lead.", ("duty", *RUNS), lambda h: h.by_program),
    Cause("line", "A line from controller to driver is off, or on another pin", 5, _set(commanded=0, pulses=0),
          "Compare label by label with the harness, then by continuity.", ("duty", "frequency", *RUNS),
          lambda h: h.by_program),
    Cause("mixed", "Two of the driver's lines are mixed up", 4, _mixed, "Change them over; look which is which at the "
          "driver, not by colour.", ("duty", "direction"), lambda h: h.by_program and h.pulsed and h.two_way),
    Cause("timer", "The timer was taken by something else in the program", 3, _taken, "Let the library go, or move the "
          "pulses to a pin of another timer.", ("frequency", "duty"), lambda h: h.by_program and h.pulsed),
    Cause("floating", "A line has no pull-down", 3, _floating, "A resistor of 10 kΩ to ground at the driver.",
          ("rest",), lambda h: h.by_program),
    Cause("dead", "The driver gives nothing: broken, or not enabled", 4, _set(forward=0, back=0), "Look for an enable "
          "or sleep line, a jumper, its own logic supply; else another driver, and why it broke.",
          ("short", "rest", *RUNS)),
    Cause("leg", "One switch of the bridge is open", 2, _leg_dead, "Replace the switch or the driver; look at its gate "
          "resistor and solder first.", ("short", *RUNS), lambda h: h.two_way and h.bridge),
    Cause("stuck", "A switch is shorted: it conducts for ever", 3, _switch_shorted, "Power off at the source. Replace "
          "switch or driver; then its diode and the gate's parts, which may have gone with it.",
          ("short", "diode", *RUNS)),
    Cause("short", "A bridge of solder, or a part the wrong way round, from supply to ground", 4, _short, "No power "
          "until it reads above 500 Ω: look along the board with a lamp, capacitors' stripes first.", POWERED,
          burns=True),
    Cause("limit", "The bench supply's current limit stands too low", 3, _too_low, "Raise the limit to the figure of "
          "the step, not further.", ("no_load_a", "loaded")),
    Cause("cell", "A dead cell in the pack", 2, _dead_cell, "Measure each cell under load; replace the pack, not one "
          "cell of it.", ("rail", "sag", "again"), lambda h: h.battery and h.cells > 1),
    Cause("logic", "The controller's supply is too low", 3, _times("logic", 0.1, 0.85), "What else hangs on it? Its "
          "own heat, its input, a short on the board.", ("logic", "idle"), lambda h: "logic" in h.steps),
    Cause("gate", "The gates' supply is too low: the switches are half on", 3, _gate_weak, "Its regulator, its "
          "capacitor, its link; no load until it is right.", ("gate_supply", "warm", "loaded"),
          lambda h: h.own_gates),
    Cause("boot", "Bootstrap capacitor or its diode missing or open", 3, _boot_gone, "Look at its diode's stripe, its "
          "capacitor's joint and that the lower switch conducts in each period.", ("boot", *RUNS),
          lambda h: h.own_gates and h.bridge),
    Cause("diode_gone", "The flyback diode is missing or open", 3, _diode_gone, "Replace it before the next pulse; "
          "then the switch, which has taken its place.", ("diode", "short"), lambda h: h.diode),
    Cause("diode_back", "The flyback diode is the wrong way round", 3, _diode_back, "Turn it; then measure it and the "
          "switch, which may both be gone.", ("diode", "short"), lambda h: h.diode, burns=True),
    Cause("diode_shorted", "The flyback diode is shorted", 2, _diode_shorted, "Replace it by one for the full current "
          "and the bus.", ("diode", "short"), lambda h: h.diode, burns=True),
    Cause("brushes", "Worn brushes or a dirty commutator", 3, _worn, "Turn it under low volts for a while; clean, or "
          "new brushes.", ("winding", "no_load_a", "stall")),
    Cause("turns", "Shorted turns in the winding", 2, _shorted_turns, "Another motor: it will only get hotter.",
          ("winding", "no_load_a", "no_load_speed", "stall")),
    Cause("magnets", "Weakened magnets", 1, _times("constant", 0.6, 0.85), "Another motor; and less than the current "
          "that weakened them.", ("no_load_speed", "loaded")),
    Cause("bearing", "Dry bearing, seized grease, or a bent shaft", 4, _times("friction", 1.6, 5.0), "Oil, warmth, "
          "straight; measure again when it has run for a while.", ("no_load_a", "no_load_speed", "loaded")),
    Cause("held", "The shaft is blocked", 3, _set(locked=1), "Power off; turn it by hand to find where it binds.",
          RUNS),
    Cause("binds", "The load binds, or is heavier than told", 5, _times("load", 1.5, 4.0), "Turn the mechanism by hand "
          "without its motor; align, oil, or give the load that it has.", ("loaded", "warm")),
    Cause("slips", "The coupling slips", 4, _slipping, "A flat and a screw, a pin, or a tighter belt; a mark across "
          "it shows at once.", ("counts", "loaded")),
    Cause("sense_off", "The sense wire is off, or its input is held", 3, _set(sense=0), "By continuity from the "
          "driver's SENSE to the pin.", ("sense",), lambda h: h.sensed),
    Cause("sense_ohm", "The wrong sense resistor, or a wrong gain", 2, _sense_wrong, "Read its bands or its code; give "
          "the gain that is built.", ("sense",), lambda h: h.sensed),
    Cause("heat", "The driver does not get rid of its heat", 2, _times("heat", 1.6, 4.0), "Paste, screw, air; another "
          "place in the box.", ("warm",), lambda h: "warm" in h.steps),
    Cause("channel", "An encoder channel is off, or the encoder has no supply", 4, _set(count=0, lost_counts=1),
          "Volts at its supply, then each channel while it is turned by hand.", ("counts", "direction"),
          lambda h: h.counted),
    Cause("channels", "The encoder's channels are swapped", 4, _set(count=-1), "Swap A and B at one end.",
          ("counts", "direction"), lambda h: h.counted),
    Cause("disc", "The encoder's disc or wheel slips", 2, _slip_disc, "Fix it; then ten turns by hand once more.",
          ("counts", "out_and_back"), lambda h: h.counted),
    Cause("lost", "Counts get lost at speed", 2, _few_lost, "Pull-ups, shorter or twisted leads, a faster way of "
          "counting: see Encoder.", ("out_and_back",), lambda h: "out_and_back" in h.steps),
    Cause("lit", "A light barrier's lamp is dead, or its gap is dirty", 3,
          lambda h, s, c: _barrier(h, s, c, "lit"), "Its resistor and polarity; a camera sees infrared.",
          ("barrier_lit", "counts"), lambda h: "barrier_lit" in h.steps),
    Cause("stray", "Stray light in the light barrier", 3, lambda h, s, c: _barrier(h, s, c, "dark"), "A cover, a black "
          "tube, a smaller pull-up.", ("barrier_dark", "counts"), lambda h: "barrier_dark" in h.steps),
    Cause("contact", "A button, limit or stop does not arrive, or is of the other kind", 4, _set(contacts_lost=1),
          "Each contact alone: pressed and let go, at its pin.", ("proving",), lambda h: "proving" in h.steps),
    Cause("none", "Nothing of this list", 3, lambda h, s, c: None, "Measure the doubtful steps again, leads in hand."),
)  # fmt: skip


def _barrier(h: Healthy, s: BenchState, chance: np.random.Generator, side: str) -> None:
    setattr(s, side, _even(chance, s, 0.35, 0.95))
    s.count, s.lost_counts = np.zeros(len(s.emf_v)), np.ones(len(s.emf_v))


def candidates(h: Healthy) -> tuple[Cause, ...]:
    """The causes that this drive can have."""
    return tuple(c for c in CAUSES if c.can(h))
