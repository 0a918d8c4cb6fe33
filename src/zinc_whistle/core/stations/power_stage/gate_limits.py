"""Gates held against their limits: levels, times, the driver behind them and its bootstrap."""

from __future__ import annotations

from collections.abc import Iterator

from ...algebra.findings import Remedy
from ...algebra.limits import Check
from ...algebra.nodes import Constant, Node, number
from ...cases.stage_parts import dead_time_needed, gate_of, is_follower, lifts, threshold_of
from ...laws import stage as stage_laws
from ...laws import switch as switch_laws
from ...model.stage import BRIDGES
from ...model.transistors import Bjt, GateDriver, Mosfet
from .stage_checks import StageChecks


def gates(c: StageChecks) -> Iterator[Check]:
    if isinstance(c.switch, Bjt):
        yield from _base(c, c.switch)
    if isinstance(c.switch, Mosfet):
        yield from _levels(c, c.switch)
        yield from _timing(c, c.switch)
        if c.stage.driven_by == "driver":
            yield from _driver(c, c.switch)


def _base(c: StageChecks, switch: Bjt) -> Iterator[Check]:
    k, at = c.k, c.at
    base = k(switch_laws.base_current, at.controller.output_high.leaf, switch.base_v.leaf, c.stage.base_resistor.leaf)
    carried = k(switch_laws.saturated_at, base, switch.forced_gain.leaf)
    yield c.up(
        "base",
        title="Saturates the transistor",
        stress=at.starting_current,
        limit=carried,
        todo="Take a smaller base resistor (if the pin bears it), a MOSFET, or a second transistor before it.",
        field="base_resistor",
    )


def _levels(c: StageChecks, switch: Mosfet) -> Iterator[Check]:
    stage, result, k = c.stage, c.result, c.k
    yield c.up(
        "gate_high",
        title="Gate against its limit",
        stress=c.anywhere.gate_top,
        limit=switch.v_gs.leaf,
        todo="Lower the gate supply below the gate's absolute limit.",
        field="gate_v",
    )
    low: Node = c.anywhere.gate
    lowest: Node = result.gate_low
    boosted = stage.circuit in ("half bridge", "full bridge") or (stage.circuit == "high side" and lifts(stage))
    if boosted:
        low, lowest = (k(stage_laws.after_boot_diode, v) for v in (low, lowest))
    on_from = k(stage_laws.on_from, threshold_of(switch))
    todo = "Raise the gate supply, or take a part whose on-resistance is given at fewer volts (logic level)."
    many = bool(on_from.axes)  # of which some may be one and some the other
    never_on = number(lowest) < number(on_from)
    if never_on or many:
        yield c.low(
            "gate_on",
            title="Gate past its threshold",
            value=low,
            limit=on_from,
            todo=todo,
            field="gate_v",
        )
    if many or not never_on:
        yield c.low(
            "gate_low",
            title="Gate fully on",
            value=low,
            limit=switch.on_resistance_at.leaf,
            todo=f"{todo} Its heat counts an estimated on-resistance.",
            field="gate_v",
            over="warn",
            destructive=False,
        )
    if is_follower(stage):
        got = k(stage_laws.follower_volts, c.anywhere.gate_top, switch.plateau.leaf)
        burnt = k(stage_laws.follower_heat, c.at.volts.any, got, c.anywhere.around.current)
        warm = k(stage_laws.warmed, c.at.board_air, burnt, switch.to_air.leaf, title="Junction of a follower")
        yield c.up(
            "follower",
            title="The motor hangs on the source: a follower",
            stress=k(stage_laws.rise, warm, c.at.board_air),
            limit=k(stage_laws.rise, switch.junction_limit.leaf, c.at.board_air),
            todo="The motor gets the gate's voltage less the threshold, and the rest "
            "burns in the switch: drive the gate "
            "above the supply (bootstrap or charge pump), take a P channel, or switch the low side.",
            field="circuit",
        )
    if stage.circuit == "p/n bridge" and stage.upper is not None:
        fix = Remedy("Fit a zener and a resistor at the upper gates", f"{c.path}.gate_clamp", "yes")
        yield c.up(
            "upper_gate",
            title="Upper gate against the supply",
            stress=c.anywhere.upper_gate,
            limit=stage.upper.v_gs.leaf,
            todo=(
                "Pulled to ground, a P channel's gate sees the whole supply, although no "
                "motor turns: fit a zener and a resistor."
            ),
            field="gate_clamp",
            remedy=fix if stage.gate_clamp == "no" else None,
            because=[stage.chosen("gate_clamp")],
        )


def _timing(c: StageChecks, switch: Mosfet) -> Iterator[Check]:
    stage, result, at = c.stage, c.result, c.at
    if stage.circuit in BRIDGES:
        needed = dead_time_needed(at, stage, (c.anywhere.times, c.anywhere.upper_times))
        given: Node = stage.dead_time.leaf
        yield c.low(
            "dead_time",
            title="Dead time",
            value=given,
            limit=needed,
            todo="Lengthen the dead time, or turn off faster with a smaller resistor.",
            field="dead_time",
        )
        yield from _lifted(c, switch)
    yield c.so(
        "pull_down",
        "Gates held down while nothing drives them",
        stage.pull_down.value is not None,
        "Fit a pull-down at each gate, 10 kΩ as a rule: a floating gate turns on by itself.",
        "pull_down",
        remedy=Remedy("Fit 10 kΩ at each gate", f"{c.path}.pull_down", "10 kΩ"),
    )
    if stage.parallel.value and stage.parallel.value > 1:
        yield c.so(
            "tied",
            "Each gate has its own resistor or driver",
            stage.gates != "tied",
            "Tied gates oscillate against each other and switch at different moments: a resistor each.",
            "gates",
            over="warn",
            remedy=Remedy("A resistor for each gate", f"{c.path}.gates", "each"),
        )
    if switch.linear_a.value is not None and (result.times.on_s.value or 0.0) > 1e-5:
        yield c.up(
            "linear",
            title="Current while it switches slowly",
            stress=at.starting_current,
            limit=switch.linear_a.leaf,
            todo="Drive the gate faster: so slow a switch works in the linear region.",
            field="driven_by",
        )


def _lifted(c: StageChecks, switch: Mosfet) -> Iterator[Check]:
    """A switch that is off, while the other of its leg turns on as fast as its gate supply can make it."""
    stage, at, k = c.stage, c.at, c.k
    upper = stage.upper if stage.circuit == "p/n bridge" and isinstance(stage.upper, Mosfet) else None
    pairs = [(switch, c.result.gate, c.anywhere.upper_times if upper else c.anywhere.fastest, "")]
    if upper is not None:
        own = gate_of(at, stage, upper, c.anywhere.upper_gate, "upper")
        pairs.append((upper, own, c.anywhere.fastest, " (upper)"))
    for part, gate, edge, which in pairs:
        way = k(stage_laws.gate_way, gate.shared, gate.sink_ohm, gate.off_resistor, gate.inside)
        held = k(switch_laws.gate_capacitance, gate.total, gate.charge, gate.drive_v, part.miller.leaf)
        yield c.up(
            "miller" if not which else "miller_upper",
            title=f"Gate lifted by the other switch{which}",
            stress=k(switch_laws.gate_lift, way, part.miller.leaf, at.volts.any, edge.edge_s, held),
            limit=part.threshold.leaf,
            todo="Turn on more slowly, hold the gate down with less resistance, or take a part with less C_rss.",
            field="off_resistor",
        )


def _driver(c: StageChecks, switch: Mosfet) -> Iterator[Check]:
    stage, _result, k, at = c.stage, c.result, c.k, c.at
    driver = stage.gate_driver
    if driver is None:
        yield c.so(
            "driver",
            "A gate driver is chosen",
            None,
            "",
            "gate_driver",
            unknown="Not known yet: choose a gate driver.",
        )
        return
    yield c.up(
        "driver_high",
        title="Driver's own supply, highest",
        stress=c.anywhere.gate_top,
        limit=driver.supply_max.leaf,
        todo="Lower the gate supply, or take a driver for more.",
        field="gate_v",
    )
    yield c.low(
        "driver_low",
        title="Driver's own supply, lowest",
        value=c.anywhere.gate,
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
        at.board_air,
        k(stage_laws.driver_heat, c.anywhere.gate_power, count),
        driver.to_air.leaf,
        title="Junction of the gate driver",
    )
    yield c.up(
        "driver_heat",
        title="Gate driver, rise to its limit",
        stress=k(stage_laws.rise, warm, at.board_air),
        limit=k(stage_laws.rise, driver.junction_limit.leaf, at.board_air),
        todo="Lower the PWM frequency or the gate charge, or share the gates among drivers.",
        field="gate_driver",
    )
    if stage.circuit in ("half bridge", "full bridge", "high side"):
        yield from _boot(c, driver, switch)


def _boot(c: StageChecks, driver: GateDriver, switch: Mosfet) -> Iterator[Check]:
    stage, _result, k, at = c.stage, c.result, c.k, c.at
    bridge = stage.circuit != "high side"
    if bridge:
        yield c.so(
            "sides",
            "The driver drives a high side",
            driver.sides != "low",
            "This driver is for low sides: take one for half bridges.",
            "gate_driver",
        )
    if driver.sides == "low":
        return
    yield c.up(
        "driver_bus",
        title="Driver's high side",
        stress=k(stage_laws.high_side_volts, c.anywhere.bus, c.anywhere.gate_top),
        limit=driver.bus_max.leaf,
        todo="Take a driver for a higher bus.",
        field="gate_driver",
    )
    if driver.sides != "half bridge":
        return
    if not at.drive.signals.pulsed:
        yield c.so(
            "boot_duty",
            "The bootstrap is refilled",
            False,
            "On is on all the time: nothing refills the bootstrap capacitor, and the upper gate sags within "
            "milliseconds. Take P channels above, a driver with a charge pump, or pulses.",
            "gate_driver",
        )
        return
    charge = k(
        switch_laws.bootstrap_charge,
        k(stage_laws.charge_of, switch.gate_charge.leaf, stage.parallel.leaf),
        driver.leak.leaf,
        k(stage_laws.on_time, c.anywhere.around.duty, at.plan.any_frequency),
    )
    yield c.low(
        "boot",
        title="Bootstrap capacitor",
        value=stage.boot_capacitor.leaf,
        limit=k(switch_laws.bootstrap_capacitor, charge, stage.boot_droop.leaf),
        todo="Take a larger bootstrap capacitor.",
        field="boot_capacitor",
        destructive=False,
    )
    most = k(switch_laws.bootstrap_duty, driver.refresh.leaf, at.plan.any_frequency)
    yield c.up(
        "boot_duty",
        title="Duty against the bootstrap's refill",
        stress=c.anywhere.around.duty,
        limit=most,
        todo="The high side must open a moment each period: gear for more speed, more supply volts, or take a "
        "driver with a charge pump.",
        field="gate_driver",
        destructive=False,
    )
