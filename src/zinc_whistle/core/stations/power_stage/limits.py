"""Every stress of a discrete stage held against its limit: volts, gates, heat, diode, relay, protection, copper."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...algebra.evaluators import Traced
from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, Node, presence
from ...cases.operating import DriveContext
from ...cases.stage import at_stall, because_of, dead_time_needed, fits, rating_of
from ...cases.stage_result import StageResult
from ...laws import capacitor as capacitor_rules
from ...laws import stage as s
from ...laws import switch as r
from ...laws import wiring as wire_rules
from ...model.components import Bjt, GateDriver, Mosfet
from ...model.stage import BRIDGES, DIODE_CIRCUITS, switch_kind

STATION = "power_stage"
SCHOOL = {
    "bus": Constant("1.5", 1.5, "ratio", "common practice, no source"),
    "clamp": Constant("1.25", 1.25, "ratio", "common practice, no source: over the clamp's voltage"),
    "twice": Constant("2", 2.0, "ratio", "common practice, no source: where nothing clamps"),
}
SLOW = Constant("300 Hz", 300.0, "frequency", "common practice, no source: above it a rectifier recovers too slowly")
RECTIFIER = 1e-6
"""A diode that recovers more than a microcoulomb is of the rectifier class."""


def checks(at: DriveContext, result: StageResult) -> list[Check]:
    """All checks of the stage that are not the same for any driver."""
    made = _Checks(at, result)
    return [
        *made.choices(),
        *made.voltage(),
        *made.gates(),
        *made.heat(),
        *made.diode(),
        *made.relay(),
        *made.protection(),
        *made.sense(),
        *made.copper(),
        *made.capacitor(),
    ]


class _Checks:
    """One stage's checks; what they share stands here once."""

    def __init__(self, at: DriveContext, result: StageResult) -> None:
        self.at, self.result, self.stage = at, result, result.spec
        self.anywhere = result.anywhere
        self.drive, self.path = at.drive.id, result.spec.path
        self.k = Traced("", because_of(at, result.spec))
        self.switch = result.spec.switch if fits(result.spec) else None

    def up(self, code: str, title: str, stress: Any, limit: Any, todo: str, field: str, **more: Any) -> Check:
        return upper(
            f"stage.{code}",
            station=STATION,
            title=title,
            stress=stress,
            bound=limit,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )

    def low(self, code: str, title: str, value: Any, limit: Any, todo: str, field: str, **more: Any) -> Check:
        return lower(
            f"stage.{code}",
            station=STATION,
            title=title,
            stress=value,
            bound=limit,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )

    def so(self, code: str, title: str, holds: bool | None, todo: str, field: str, **more: Any) -> Check:
        return claim(
            f"stage.{code}",
            station=STATION,
            title=title,
            holds=holds,
            todo=todo,
            drive=self.drive,
            where=f"{self.path}.{field}",
            **more,
        )

    def choices(self) -> Iterator[Check]:
        stage = self.stage
        wanted = {"mosfet": "a MOSFET", "bjt": "a bipolar transistor", "module": "a half-bridge module"}[
            switch_kind(stage.circuit)
        ]
        chosen = None if stage.switch is None else fits(stage)
        yield self.so(
            "switch",
            "The switch fits the circuit",
            chosen,
            f"This circuit needs {wanted}: choose one.",
            "switch",
            unknown="Not known yet: choose a switch.",
        )
        if stage.circuit == "p/n bridge":
            p = None if stage.upper is None else stage.upper.channel == "P"
            yield self.so(
                "upper",
                "The upper switch is a P channel",
                p,
                "Choose a P channel for the upper places.",
                "upper",
                unknown="Not known yet: choose the upper switch.",
            )
        if isinstance(self.switch, Mosfet):
            lower = self.switch.channel == "N" or stage.circuit == "high side"
            yield self.so(
                "channel",
                "The switch is an N channel",
                lower,
                "A P channel belongs above the motor: choose an N channel.",
                "switch",
            )
        if stage.circuit not in BRIDGES and self.at.drive.signals.decay == "locked anti-phase":
            yield self.so(
                "decay",
                "The circuit can do this drive mode",
                False,
                "Locked anti-phase needs a bridge: take sign-magnitude at Signals.",
                "circuit",
            )

    def voltage(self) -> Iterator[Check]:
        at, stage, k = self.at, self.stage, self.k
        school = at.build.schools.standoff
        because = [at.build.schools.chosen("standoff")]
        highest: Node = self.result.anywhere.bus
        if school == "clamp":
            highest = at.build.supply.clamp_v.leaf
        wanted = s.standoff(SCHOOL[school], highest, because=because)
        rating = rating_of(stage, k, self.switch)
        yield self.up(
            "standoff",
            "Voltage of the switch",
            wanted,
            rating,
            "Take a switch for more volts, fit a clamp, or lower the supply.",
            "switch",
        )
        if isinstance(self.switch, Mosfet):
            peak = k(
                s.ringing,
                at.volts.any,
                stage.loop.leaf,
                at.starting_current,
                self.switch.output.leaf,
                self.anywhere.times.off_s,
                title="Ringing over the supply",
            )
            yield self.up(
                "ringing",
                "Ringing at turn-off",
                peak,
                rating,
                "Shorten the loop of capacitor and switches, slow the turn-off with a larger gate resistor, "
                "or fit a snubber.",
                "loop",
                over="warn",
            )
        if stage.guard is not None:
            yield from self._guard()

    def _guard(self) -> Iterator[Check]:
        stage, at = self.stage, self.at
        assert stage.guard is not None
        clamped = stage.guard_clamp == "yes"
        seen: Node = stage.clamp_v.leaf if clamped else at.volts.any
        fix = Remedy("Fit a zener and a resistor at its gate", f"{self.path}.guard_clamp", "yes")
        yield self.up(
            "guard_gate",
            "Guard's gate against the supply",
            seen,
            stage.guard.v_gs.leaf,
            (
                "Its gate sees the whole supply although no motor turns: fit a zener of "
                "less than its limit, and a resistor."
            ),
            "guard_clamp",
            remedy=None if clamped else fix,
            because=[stage.chosen("guard_clamp")],
        )
        yield self.up(
            "guard_volts",
            "Guard's voltage",
            self.anywhere.bus,
            stage.guard.v_ds.leaf,
            "Take a guard transistor for more volts.",
            "guard",
        )

    def gates(self) -> Iterator[Check]:
        if isinstance(self.switch, Bjt):
            yield from self._base(self.switch)
        if isinstance(self.switch, Mosfet):
            yield from self._levels(self.switch)
            yield from self._timing(self.switch)
            if self.stage.driven_by == "driver":
                yield from self._driver(self.switch)

    def _base(self, switch: Bjt) -> Iterator[Check]:
        k, at = self.k, self.at
        base = k(r.base_current, at.controller.output_high.leaf, switch.base_v.leaf, self.stage.base_resistor.leaf)
        carried = k(r.saturated_current, base)
        yield self.up(
            "base",
            "Saturates the transistor",
            at.starting_current,
            carried,
            "Take a smaller base resistor (if the pin bears it), a MOSFET, or a second transistor before it.",
            "base_resistor",
        )

    def _levels(self, switch: Mosfet) -> Iterator[Check]:
        stage, _result, k = self.stage, self.result, self.k
        yield self.up(
            "gate_high",
            "Gate against its limit",
            self.anywhere.gate_top,
            switch.v_gs.leaf,
            "Lower the gate supply below the gate's absolute limit.",
            "gate_v",
        )
        low: Node = self.anywhere.gate
        boosted = stage.circuit in ("half bridge", "full bridge") or (stage.circuit == "high side" and self._lifts())
        if boosted:
            low = k(s.after_boot_diode, self.anywhere.gate)
        yield self.low(
            "gate_low",
            "Gate fully on",
            low,
            switch.on_resistance_at.leaf,
            "Raise the gate supply, or take a part whose on-resistance is given at fewer volts (logic level).",
            "gate_v",
        )
        if stage.circuit == "high side" and switch.channel == "N" and not self._lifts():
            got = k(s.follower_volts, self.anywhere.gate_top, switch.plateau.leaf)
            burnt = k(s.follower_heat, self.at.volts.any, got, self.at.any_rms)
            warm = k(s.warmed, self.at.air, burnt, switch.to_air.leaf, title="Junction of a follower")
            yield self.up(
                "follower",
                "The motor hangs on the source: a follower",
                k(s.rise, warm, self.at.air),
                k(s.rise, switch.junction_limit.leaf, self.at.air),
                "The motor gets the gate's voltage less the threshold, and the rest "
                "burns in the switch: drive the gate "
                "above the supply (bootstrap or charge pump), take a P channel, or switch the low side.",
                "circuit",
            )
        if stage.circuit == "p/n bridge" and stage.upper is not None:
            fix = Remedy("Fit a zener and a resistor at the upper gates", f"{self.path}.gate_clamp", "yes")
            yield self.up(
                "upper_gate",
                "Upper gate against the supply",
                self.anywhere.upper_gate,
                stage.upper.v_gs.leaf,
                (
                    "Pulled to ground, a P channel's gate sees the whole supply, although no "
                    "motor turns: fit a zener and a resistor."
                ),
                "gate_clamp",
                remedy=fix if stage.gate_clamp == "no" else None,
                because=[stage.chosen("gate_clamp")],
            )

    def _lifts(self) -> bool:
        """Whether something drives the gate above the supply."""
        driver = self.stage.gate_driver
        return self.stage.driven_by == "driver" and driver is not None and driver.sides != "low"

    def _timing(self, switch: Mosfet) -> Iterator[Check]:
        stage, result, k, at = self.stage, self.result, self.k, self.at
        if stage.circuit in BRIDGES:
            needed = dead_time_needed(at, stage, (self.anywhere.times, self.anywhere.upper_times))
            given: Node = stage.dead_time.leaf
            yield self.low(
                "dead_time",
                "Dead time",
                given,
                needed,
                "Lengthen the dead time, or turn off faster with a smaller resistor.",
                "dead_time",
            )
            rise = self.anywhere.fastest.on_s
            lift = k(
                r.miller_lift,
                k(s.gate_way, result.gate.shared, result.gate.sink_ohm, result.gate.off_resistor, result.gate.inside),
                switch.miller.leaf,
                at.volts.any,
                rise,
            )
            yield self.up(
                "miller",
                "Gate lifted by the other switch",
                lift,
                switch.threshold.leaf,
                "Turn on more slowly, hold the gate down with less resistance, or take a part with less C_rss.",
                "off_resistor",
            )
        yield self.so(
            "pull_down",
            "Gates held down while the controller resets",
            stage.pull_down.value is not None,
            "Fit a pull-down at each gate, 10 kΩ as a rule: a floating gate turns on by itself.",
            "pull_down",
            remedy=Remedy("Fit 10 kΩ at each gate", f"{self.path}.pull_down", "10 kΩ"),
        )
        if stage.parallel.value and stage.parallel.value > 1:
            yield self.so(
                "tied",
                "Each gate has its own resistor or driver",
                stage.gates != "tied",
                "Tied gates oscillate against each other and switch at different moments: a resistor each.",
                "gates",
                over="warn",
                remedy=Remedy("A resistor for each gate", f"{self.path}.gates", "each"),
            )
        if switch.linear_a.value is not None and (result.times.on_s.value or 0.0) > 1e-5:
            yield self.up(
                "linear",
                "Current while it switches slowly",
                at.starting_current,
                switch.linear_a.leaf,
                "Drive the gate faster: so slow a switch works in the linear region.",
                "driven_by",
            )

    def _driver(self, switch: Mosfet) -> Iterator[Check]:
        stage, _result, k, at = self.stage, self.result, self.k, self.at
        driver = stage.gate_driver
        if driver is None:
            yield self.so(
                "driver",
                "A gate driver is chosen",
                None,
                "",
                "gate_driver",
                unknown="Not known yet: choose a gate driver.",
            )
            return
        yield self.up(
            "driver_high",
            "Driver's own supply, highest",
            self.anywhere.gate_top,
            driver.supply_max.leaf,
            "Lower the gate supply, or take a driver for more.",
            "gate_v",
        )
        yield self.low(
            "driver_low",
            "Driver's own supply, lowest",
            self.anywhere.gate,
            driver.supply_min.leaf,
            "The driver locks out: raise the gate supply or its headroom.",
            "gate_v",
            destructive=False,
        )
        count = k(
            s.on_the_sink,
            stage.parallel.leaf,
            Constant("gates at work", 2.0 if stage.circuit in BRIDGES else 1.0, "number"),
        )
        warm = k(
            s.warmed,
            at.air,
            k(s.driver_heat, self.anywhere.gate_power, count),
            driver.to_air.leaf,
            title="Junction of the gate driver",
        )
        yield self.up(
            "driver_heat",
            "Gate driver, rise to its limit",
            k(s.rise, warm, at.air),
            k(s.rise, driver.junction_limit.leaf, at.air),
            "Lower the PWM frequency or the gate charge, or share the gates among drivers.",
            "gate_driver",
        )
        if stage.circuit in ("half bridge", "full bridge", "high side"):
            yield from self._boot(driver, switch)

    def _boot(self, driver: GateDriver, switch: Mosfet) -> Iterator[Check]:
        stage, _result, k, at = self.stage, self.result, self.k, self.at
        bridge = stage.circuit != "high side"
        if bridge:
            yield self.so(
                "sides",
                "The driver drives a high side",
                driver.sides != "low",
                "This driver is for low sides: take one for half bridges.",
                "gate_driver",
            )
        if driver.sides == "low":
            return
        yield self.up(
            "driver_bus",
            "Driver's high side",
            k(s.high_side_volts, self.anywhere.bus, self.anywhere.gate_top),
            driver.bus_max.leaf,
            "Take a driver for a higher bus.",
            "gate_driver",
        )
        if driver.sides != "half bridge":
            return
        charge = k(
            r.bootstrap_charge,
            k(s.charge_of, switch.gate_charge.leaf, stage.parallel.leaf),
            driver.leak.leaf,
            k(s.on_time, self.anywhere.around.duty, at.plan.frequency),
        )
        yield self.low(
            "boot",
            "Bootstrap capacitor",
            stage.boot_capacitor.leaf,
            k(r.bootstrap_capacitor, charge, stage.boot_droop.leaf),
            "Take a larger bootstrap capacitor.",
            "boot_capacitor",
            destructive=False,
        )
        most = k(r.bootstrap_duty, driver.refresh.leaf, at.plan.frequency)
        yield self.up(
            "boot_duty",
            "Duty against the bootstrap's refill",
            self.anywhere.around.duty,
            most,
            "The high side must open a moment each period: gear for more speed, more supply volts, or take a "
            "driver with a charge pump.",
            "gate_driver",
            destructive=False,
        )

    def heat(self) -> Iterator[Check]:
        """Junctions are the driver's check (current against what the heat allows); here are packages and the sink."""
        stage, result = self.stage, self.result
        sink = stage.heat_sink
        if sink is not None:
            yield self.up(
                "sink_room",
                "Room on the heat sink",
                result.count,
                sink.places.leaf,
                "Take a longer heat sink, or one for each side.",
                "heat_sink",
                destructive=False,
                over="warn",
            )

    def diode(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if stage.circuit not in DIODE_CIRCUITS:
            return
        diode = stage.diode
        if diode is None:
            yield self.so(
                "diode",
                "A flyback diode is chosen",
                None,
                "",
                "diode",
                unknown="Not known yet: choose the flyback diode.",
            )
            return
        off = k(s.rest_of, self.anywhere.around.duty)
        mean = k(s.diode_mean, at.starting_current, off)
        warm = k(
            s.warmed,
            at.air,
            k(s.diode_heat, diode.forward_v.leaf, at.any_rms, off),
            diode.to_air.leaf,
            title="Junction of the diode",
        )
        yield self.up(
            "diode_volts",
            "Diode's reverse voltage",
            self.anywhere.bus,
            diode.reverse_v.leaf,
            "Take a diode for more volts.",
            "diode",
        )
        yield self.up(
            "diode_mean",
            "Diode's mean current",
            mean,
            diode.forward_a.leaf,
            "Take a diode for more current, or two side by side on one sink.",
            "diode",
        )
        yield self.up(
            "diode_heat",
            "Diode, rise to its limit",
            k(s.rise, warm, at.air),
            k(s.rise, diode.junction_limit.leaf, at.air),
            "Give the diode a heat sink, or take one that drops less.",
            "diode",
        )
        if diode.recovery.value is not None and diode.recovery.value < RECTIFIER:
            yield self.so("diode_speed", "The diode is fast enough", True, "", "diode")
        elif diode.recovery.value is not None:
            yield self.up(
                "diode_speed",
                "PWM against a diode this slow",
                at.plan.frequency,
                SLOW,
                "A rectifier recovers too slowly above a few hundred hertz: take a Schottky or a fast diode.",
                "diode",
                because=[presence(diode.recovery.leaf)],
            )

    def relay(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if stage.circuit != "relay pair":
            return
        relay = stage.relay
        if relay is None:
            yield self.so("relay", "A relay is chosen", None, "", "relay", unknown="Not known yet: choose the relays.")
            return
        yield self.up(
            "contact",
            "Contact current, DC",
            at.starting_current,
            relay.contact_a.leaf,
            "Take a relay whose DC rating carries the start, or ramp more slowly.",
            "relay",
        )
        yield self.up(
            "contact_volts",
            "Contact voltage, DC",
            at.volts.any,
            relay.contact_v.leaf,
            "Take a relay rated for this DC voltage: an arc that AC puts out burns on.",
            "relay",
        )
        motor = getattr(at, "motor", None)
        if motor is not None and stage.diode is not None:
            decay = k(
                r.current_decay, motor.inductance, motor.resistance_25, at.starting_current, stage.diode.forward_v.leaf
            )
            dwell = k(r.relay_dwell, decay, relay.release.leaf, relay.bounce.leaf)
            yield self.low(
                "pause",
                "Pause round a change-over",
                stage.relay_pause.leaf,
                dwell,
                "Wait longer: the current must die, the contact move and come to rest before power returns.",
                "relay_pause",
            )

    def protection(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        fuse = stage.fuse
        if fuse is None:
            return
        yield self.up(
            "fuse",
            "Fuse, current for good",
            at.any_rms,
            k(s.fuse_for_good, fuse.rated_a.leaf),
            "Take the next larger fuse, if the wire bears it.",
            "fuse",
            over="warn",
            destructive=False,
        )
        yield self.up(
            "fuse_volts",
            "Fuse, DC voltage",
            at.volts.any,
            fuse.rated_v.leaf,
            "Take a fuse rated for this DC voltage.",
            "fuse",
        )
        if fuse.melting.value is not None:
            ramp = getattr(getattr(at, "load", None), "ramp_time", None)
            if ramp is not None:
                start = k(s.start_integral, at.starting_current, ramp)
                yield self.up(
                    "fuse_start",
                    "Fuse against the start",
                    start,
                    k(s.fuse_bears, fuse.melting.leaf, fuse.rated_a.leaf, ramp),
                    "Take a slow fuse, or start more quickly at less current.",
                    "fuse",
                    over="warn",
                    destructive=False,
                )
            yield self.up(
                "fuse_wire",
                "Wire behind the fuse",
                fuse.melting.leaf,
                k(s.wire_integral, at.supply_wire.area),
                "Take thicker wire or a quicker fuse.",
                "fuse",
            )

    def sense(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if stage.shunt.value is None:
            return
        heat = k(r.shunt_heat, at.any_rms, stage.shunt.leaf)
        yield self.up(
            "shunt_heat",
            "Heat in the shunt",
            heat,
            stage.shunt_rating.leaf,
            "Take a smaller shunt, or one for more power.",
            "shunt",
        )
        peak = k(s.sensed, at.starting_current, stage.shunt.leaf, stage.sense_gain.leaf)
        clamped = stage.sense_clamp == "yes"
        yield self.up(
            "sense_range",
            "Sense signal at the start",
            peak,
            at.controller.sense_reference.leaf,
            "Take a smaller shunt or less gain: beyond full scale the converter is blind.",
            "sense_gain",
            over="warn",
            destructive=False,
        )
        stall = k(s.sensed, at_stall(at), stage.shunt.leaf, stage.sense_gain.leaf, title="Sense signal, stalled")
        over = stall.value is not None and stall.value > (at.controller.sense_reference.value or 0.0)
        yield self.so(
            "sense_clamp",
            "The sense pin is clamped in every state",
            clamped or not over,
            "A stall would put more than the pin bears on it: a series resistor and a zener to ground.",
            "sense_clamp",
            remedy=Remedy("Fit a resistor and a zener", f"{self.path}.sense_clamp", "yes"),
        )

    def copper(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if stage.track_width.value is None:
            return
        section = k(wire_rules.track_section, stage.track_width.leaf, stage.copper.leaf)
        warms = k(wire_rules.track_warms, at.any_rms, wire_rules.TRACK[stage.track_layer], section)
        yield self.up(
            "track",
            "Track's warmth",
            warms,
            stage.track_rise.leaf,
            "Take a wider track, thicker copper, or solder a wire along it. The chart ends at 35 A and 10 mm.",
            "track_width",
            because=[stage.chosen("track_layer")],
        )

    def capacitor(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if at.unit.bulk_ripple.value is None:
            return
        factor = Constant("2", 2.0, "number") if at.drive.signals.decay != "slow" else Constant("1", 1.0, "number")
        ripple = k(capacitor_rules.ripple_current, factor, at.any_rms, self.anywhere.around.duty)
        core = k(s.core_temperature, at.air, ripple, at.unit.bulk_ripple.leaf)
        life = k(s.capacitor_life, stage.life.leaf, stage.life_at.leaf, core)
        yield self.low(
            "capacitor_life",
            "Capacitor's life",
            life,
            stage.life_wanted.leaf,
            "Take a capacitor for more ripple, 105 °C or longer life, or give it cooler air.",
            "life",
            over="warn",
            destructive=False,
        )
