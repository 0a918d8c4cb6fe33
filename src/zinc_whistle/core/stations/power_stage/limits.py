"""Every stress of a discrete stage held against its limit: volts, gates, heat, diode, relay, protection, copper."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...algebra.evaluators import Tracing
from ...algebra.findings import Remedy
from ...algebra.limits import Check, claim, lower, upper
from ...algebra.nodes import Constant, Node, presence
from ...cases.operating import DriveContext
from ...cases.stage import at_stall, because_of, dead_time_needed, fits, rating_of
from ...cases.stage_result import StageResult
from ...laws import capacitor as capacitor_rules
from ...laws import stage as stage_laws
from ...laws import switch as switch_laws
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
        self.k = Tracing("", because_of(at, result.spec))
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
        wanted = stage_laws.standoff(SCHOOL[school], highest, because=because)
        rating = rating_of(stage, k, self.switch)
        yield self.up(
            "standoff",
            title="Voltage of the switch",
            stress=wanted,
            limit=rating,
            todo="Take a switch for more volts, fit a clamp, or lower the supply.",
            field="switch",
        )
        if isinstance(self.switch, Mosfet):
            peak = k(
                stage_laws.ringing,
                at.volts.any,
                stage.loop.leaf,
                at.starting_current,
                self.switch.output.leaf,
                self.anywhere.times.off_s,
                title="Ringing over the supply",
            )
            yield self.up(
                "ringing",
                title="Ringing at turn-off",
                stress=peak,
                limit=rating,
                todo="Shorten the loop of capacitor and switches, slow the turn-off with a larger gate resistor, "
                "or fit a snubber.",
                field="loop",
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
            title="Guard's gate against the supply",
            stress=seen,
            limit=stage.guard.v_gs.leaf,
            todo=(
                "Its gate sees the whole supply although no motor turns: fit a zener of "
                "less than its limit, and a resistor."
            ),
            field="guard_clamp",
            remedy=None if clamped else fix,
            because=[stage.chosen("guard_clamp")],
        )
        yield self.up(
            "guard_volts",
            title="Guard's voltage",
            stress=self.anywhere.bus,
            limit=stage.guard.v_ds.leaf,
            todo="Take a guard transistor for more volts.",
            field="guard",
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
        base = k(
            switch_laws.base_current, at.controller.output_high.leaf, switch.base_v.leaf, self.stage.base_resistor.leaf
        )
        carried = k(switch_laws.saturated_current, base)
        yield self.up(
            "base",
            title="Saturates the transistor",
            stress=at.starting_current,
            limit=carried,
            todo="Take a smaller base resistor (if the pin bears it), a MOSFET, or a second transistor before it.",
            field="base_resistor",
        )

    def _levels(self, switch: Mosfet) -> Iterator[Check]:
        stage, _result, k = self.stage, self.result, self.k
        yield self.up(
            "gate_high",
            title="Gate against its limit",
            stress=self.anywhere.gate_top,
            limit=switch.v_gs.leaf,
            todo="Lower the gate supply below the gate's absolute limit.",
            field="gate_v",
        )
        low: Node = self.anywhere.gate
        boosted = stage.circuit in ("half bridge", "full bridge") or (stage.circuit == "high side" and self._lifts())
        if boosted:
            low = k(stage_laws.after_boot_diode, self.anywhere.gate)
        yield self.low(
            "gate_low",
            title="Gate fully on",
            value=low,
            limit=switch.on_resistance_at.leaf,
            todo="Raise the gate supply, or take a part whose on-resistance is given at fewer volts (logic level).",
            field="gate_v",
        )
        if stage.circuit == "high side" and switch.channel == "N" and not self._lifts():
            got = k(stage_laws.follower_volts, self.anywhere.gate_top, switch.plateau.leaf)
            burnt = k(stage_laws.follower_heat, self.at.volts.any, got, self.at.any_rms)
            warm = k(stage_laws.warmed, self.at.air, burnt, switch.to_air.leaf, title="Junction of a follower")
            yield self.up(
                "follower",
                title="The motor hangs on the source: a follower",
                stress=k(stage_laws.rise, warm, self.at.air),
                limit=k(stage_laws.rise, switch.junction_limit.leaf, self.at.air),
                todo="The motor gets the gate's voltage less the threshold, and the rest "
                "burns in the switch: drive the gate "
                "above the supply (bootstrap or charge pump), take a P channel, or switch the low side.",
                field="circuit",
            )
        if stage.circuit == "p/n bridge" and stage.upper is not None:
            fix = Remedy("Fit a zener and a resistor at the upper gates", f"{self.path}.gate_clamp", "yes")
            yield self.up(
                "upper_gate",
                title="Upper gate against the supply",
                stress=self.anywhere.upper_gate,
                limit=stage.upper.v_gs.leaf,
                todo=(
                    "Pulled to ground, a P channel's gate sees the whole supply, although no "
                    "motor turns: fit a zener and a resistor."
                ),
                field="gate_clamp",
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
                title="Dead time",
                value=given,
                limit=needed,
                todo="Lengthen the dead time, or turn off faster with a smaller resistor.",
                field="dead_time",
            )
            rise = self.anywhere.fastest.on_s
            lift = k(
                switch_laws.miller_lift,
                k(
                    stage_laws.gate_way,
                    result.gate.shared,
                    result.gate.sink_ohm,
                    result.gate.off_resistor,
                    result.gate.inside,
                ),
                switch.miller.leaf,
                at.volts.any,
                rise,
            )
            yield self.up(
                "miller",
                title="Gate lifted by the other switch",
                stress=lift,
                limit=switch.threshold.leaf,
                todo="Turn on more slowly, hold the gate down with less resistance, or take a part with less C_rss.",
                field="off_resistor",
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
                title="Current while it switches slowly",
                stress=at.starting_current,
                limit=switch.linear_a.leaf,
                todo="Drive the gate faster: so slow a switch works in the linear region.",
                field="driven_by",
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
            title="Driver's own supply, highest",
            stress=self.anywhere.gate_top,
            limit=driver.supply_max.leaf,
            todo="Lower the gate supply, or take a driver for more.",
            field="gate_v",
        )
        yield self.low(
            "driver_low",
            title="Driver's own supply, lowest",
            value=self.anywhere.gate,
            limit=driver.supply_min.leaf,
            todo="The driver locks out: raise the gate supply or its headroom.",
            field="gate_v",
            destructive=False,
        )
        count = k(
            stage_laws.on_the_sink,
            stage.parallel.leaf,
            Constant("gates at work", 2.0 if stage.circuit in BRIDGES else 1.0, "number"),
        )
        warm = k(
            stage_laws.warmed,
            at.air,
            k(stage_laws.driver_heat, self.anywhere.gate_power, count),
            driver.to_air.leaf,
            title="Junction of the gate driver",
        )
        yield self.up(
            "driver_heat",
            title="Gate driver, rise to its limit",
            stress=k(stage_laws.rise, warm, at.air),
            limit=k(stage_laws.rise, driver.junction_limit.leaf, at.air),
            todo="Lower the PWM frequency or the gate charge, or share the gates among drivers.",
            field="gate_driver",
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
            title="Driver's high side",
            stress=k(stage_laws.high_side_volts, self.anywhere.bus, self.anywhere.gate_top),
            limit=driver.bus_max.leaf,
            todo="Take a driver for a higher bus.",
            field="gate_driver",
        )
        if driver.sides != "half bridge":
            return
        charge = k(
            switch_laws.bootstrap_charge,
            k(stage_laws.charge_of, switch.gate_charge.leaf, stage.parallel.leaf),
            driver.leak.leaf,
            k(stage_laws.on_time, self.anywhere.around.duty, at.plan.frequency),
        )
        yield self.low(
            "boot",
            title="Bootstrap capacitor",
            value=stage.boot_capacitor.leaf,
            limit=k(switch_laws.bootstrap_capacitor, charge, stage.boot_droop.leaf),
            todo="Take a larger bootstrap capacitor.",
            field="boot_capacitor",
            destructive=False,
        )
        most = k(switch_laws.bootstrap_duty, driver.refresh.leaf, at.plan.frequency)
        yield self.up(
            "boot_duty",
            title="Duty against the bootstrap's refill",
            stress=self.anywhere.around.duty,
            limit=most,
            todo="The high side must open a moment each period: gear for more speed, more supply volts, or take a "
            "driver with a charge pump.",
            field="gate_driver",
            destructive=False,
        )

    def heat(self) -> Iterator[Check]:
        """Junctions are the driver's check (current against what the heat allows); here are packages and the sink."""
        stage, result = self.stage, self.result
        sink = stage.heat_sink
        if sink is not None:
            yield self.up(
                "sink_room",
                title="Room on the heat sink",
                stress=result.count,
                limit=sink.places.leaf,
                todo="Take a longer heat sink, or one for each side.",
                field="heat_sink",
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
        off = k(stage_laws.rest_of, self.anywhere.around.duty)
        mean = k(stage_laws.diode_mean, at.starting_current, off)
        warm = k(
            stage_laws.warmed,
            at.air,
            k(stage_laws.diode_heat, diode.forward_v.leaf, at.any_rms, off),
            diode.to_air.leaf,
            title="Junction of the diode",
        )
        yield self.up(
            "diode_volts",
            title="Diode's reverse voltage",
            stress=self.anywhere.bus,
            limit=diode.reverse_v.leaf,
            todo="Take a diode for more volts.",
            field="diode",
        )
        yield self.up(
            "diode_mean",
            title="Diode's mean current",
            stress=mean,
            limit=diode.forward_a.leaf,
            todo="Take a diode for more current, or two side by side on one sink.",
            field="diode",
        )
        yield self.up(
            "diode_heat",
            title="Diode, rise to its limit",
            stress=k(stage_laws.rise, warm, at.air),
            limit=k(stage_laws.rise, diode.junction_limit.leaf, at.air),
            todo="Give the diode a heat sink, or take one that drops less.",
            field="diode",
        )
        if diode.recovery.value is not None and diode.recovery.value < RECTIFIER:
            yield self.so("diode_speed", "The diode is fast enough", True, "", "diode")
        elif diode.recovery.value is not None:
            yield self.up(
                "diode_speed",
                title="PWM against a diode this slow",
                stress=at.plan.frequency,
                limit=SLOW,
                todo="A rectifier recovers too slowly above a few hundred hertz: take a Schottky or a fast diode.",
                field="diode",
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
            title="Contact current, DC",
            stress=at.starting_current,
            limit=relay.contact_a.leaf,
            todo="Take a relay whose DC rating carries the start, or ramp more slowly.",
            field="relay",
        )
        yield self.up(
            "contact_volts",
            title="Contact voltage, DC",
            stress=at.volts.any,
            limit=relay.contact_v.leaf,
            todo="Take a relay rated for this DC voltage: an arc that AC puts out burns on.",
            field="relay",
        )
        motor = getattr(at, "motor", None)
        if motor is not None and stage.diode is not None:
            decay = k(
                switch_laws.current_decay,
                motor.inductance,
                motor.resistance_25,
                at.starting_current,
                stage.diode.forward_v.leaf,
            )
            dwell = k(switch_laws.relay_dwell, decay, relay.release.leaf, relay.bounce.leaf)
            yield self.low(
                "pause",
                title="Pause round a change-over",
                value=stage.relay_pause.leaf,
                limit=dwell,
                todo="Wait longer: the current must die, the contact move and come to rest before power returns.",
                field="relay_pause",
            )

    def protection(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        fuse = stage.fuse
        if fuse is None:
            return
        yield self.up(
            "fuse",
            title="Fuse, current for good",
            stress=at.any_rms,
            limit=k(stage_laws.fuse_for_good, fuse.rated_a.leaf),
            todo="Take the next larger fuse, if the wire bears it.",
            field="fuse",
            over="warn",
            destructive=False,
        )
        yield self.up(
            "fuse_volts",
            title="Fuse, DC voltage",
            stress=at.volts.any,
            limit=fuse.rated_v.leaf,
            todo="Take a fuse rated for this DC voltage.",
            field="fuse",
        )
        if fuse.melting.value is not None:
            ramp = getattr(getattr(at, "load", None), "ramp_time", None)
            if ramp is not None:
                start = k(stage_laws.start_integral, at.starting_current, ramp)
                yield self.up(
                    "fuse_start",
                    title="Fuse against the start",
                    stress=start,
                    limit=k(stage_laws.fuse_bears, fuse.melting.leaf, fuse.rated_a.leaf, ramp),
                    todo="Take a slow fuse, or start more quickly at less current.",
                    field="fuse",
                    over="warn",
                    destructive=False,
                )
            yield self.up(
                "fuse_wire",
                title="Wire behind the fuse",
                stress=fuse.melting.leaf,
                limit=k(stage_laws.wire_integral, at.supply_wire.area),
                todo="Take thicker wire or a quicker fuse.",
                field="fuse",
            )

    def sense(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if stage.shunt.value is None:
            return
        heat = k(switch_laws.shunt_heat, at.any_rms, stage.shunt.leaf)
        yield self.up(
            "shunt_heat",
            title="Heat in the shunt",
            stress=heat,
            limit=stage.shunt_rating.leaf,
            todo="Take a smaller shunt, or one for more power.",
            field="shunt",
        )
        peak = k(stage_laws.sensed, at.starting_current, stage.shunt.leaf, stage.sense_gain.leaf)
        clamped = stage.sense_clamp == "yes"
        yield self.up(
            "sense_range",
            title="Sense signal at the start",
            stress=peak,
            limit=at.controller.sense_reference.leaf,
            todo="Take a smaller shunt or less gain: beyond full scale the converter is blind.",
            field="sense_gain",
            over="warn",
            destructive=False,
        )
        stall = k(
            stage_laws.sensed, at_stall(at), stage.shunt.leaf, stage.sense_gain.leaf, title="Sense signal, stalled"
        )
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
            title="Track's warmth",
            stress=warms,
            limit=stage.track_rise.leaf,
            todo="Take a wider track, thicker copper, or solder a wire along it. The chart ends at 35 A and 10 mm.",
            field="track_width",
            because=[stage.chosen("track_layer")],
        )

    def capacitor(self) -> Iterator[Check]:
        stage, at, k = self.stage, self.at, self.k
        if at.unit.bulk_ripple.value is None:
            return
        factor = Constant("2", 2.0, "number") if at.drive.signals.decay != "slow" else Constant("1", 1.0, "number")
        ripple = k(capacitor_rules.ripple_current, factor, at.any_rms, self.anywhere.around.duty)
        core = k(stage_laws.core_temperature, at.air, ripple, at.unit.bulk_ripple.leaf)
        life = k(stage_laws.capacitor_life, stage.life.leaf, stage.life_at.leaf, core)
        yield self.low(
            "capacitor_life",
            title="Capacitor's life",
            value=life,
            limit=stage.life_wanted.leaf,
            todo="Take a capacitor for more ripple, 105 °C or longer life, or give it cooler air.",
            field="life",
            over="warn",
            destructive=False,
        )
