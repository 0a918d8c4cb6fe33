"""The netlist of whole builds: its nets, what a solver of circuits makes of it, and the lists that read it."""

from __future__ import annotations

import contextlib
import csv
import io
import itertools
import json
import random
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.circuits.net import Net as Circuit
from tests.kit import staged
from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.cases.netlist import Netlist
from zinc_whistle.core.cases.wires.terminal import Terminal
from zinc_whistle.core.design.assembly import assembly
from zinc_whistle.core.design.bill import bill, to_csv
from zinc_whistle.core.design.continuity import probes, resistances
from zinc_whistle.core.design.kit_list import KitError, kit
from zinc_whistle.core.design.netlist_table import netlist_csv, width_mm
from zinc_whistle.core.model.build import Build
from zinc_whistle.core.model.given import Given
from zinc_whistle.core.model.stage import CIRCUITS
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, puppet_stage, snow_fan
from zinc_whistle.sheets.wiring_views import wiring_picture

FILES = sorted((Path(__file__).parents[1] / "verdicts" / "builds").glob("*.json"))
MAKERS: dict[str, Callable[[], Build]] = {
    "carousel": lantern_carousel,
    "stirrer": cider_stirrer,
    "puppets": puppet_stage,
    "fan": snow_fan,
    **{f"stage, {c}": lambda c=c: staged(lantern_carousel(), c) for c in CIRCUITS},  # type: ignore[misc]
    **{f.stem: lambda f=f: Build.model_validate(json.loads(f.read_text("utf-8"))) for f in FILES},  # type: ignore[misc]
}
DONE = {name: assess(make()) for name, make in MAKERS.items()}
EVERY = pytest.mark.parametrize("name", MAKERS)


def net_of(done: Assessment) -> Netlist:
    return next(iter(done.drives.values())).wiring.netlist


def joined(net: Netlist) -> dict[Terminal, frozenset[Terminal]]:
    """What hangs together, walked wire by wire."""
    beside: dict[Terminal, set[Terminal]] = {}
    for w in net.wires:
        if w.fitted:
            beside.setdefault(w.start, set()).add(w.end)
            beside.setdefault(w.end, set()).add(w.start)
    found: dict[Terminal, frozenset[Terminal]] = {}
    for first in beside:
        if first in found:
            continue
        seen, waiting = {first}, [first]
        while waiting:
            for t in beside[waiting.pop()] - seen:
                seen.add(t)
                waiting.append(t)
        found |= dict.fromkeys(seen, frozenset(seen))
    return found


@EVERY
def test_every_pin_is_in_one_net_or_named_unused(name: str) -> None:
    net = net_of(DONE[name])
    pins = [Terminal(p.id, n) for p in net.parts.values() for n in p.pins]
    assert len(pins) == len(set(pins))
    places = Counter(t for n in net.nets for t in n.pins) + Counter(net.unused)
    assert places == Counter(pins)
    assert {t: frozenset(n.pins) for n in net.nets for t in n.pins} == joined(net)
    assert len({n.id for n in net.nets}) == len(net.nets)


@EVERY
def test_drawing_table_and_netlist_say_the_same(name: str) -> None:
    done = DONE[name]
    for drive in done.drives.values():
        net, view = drive.wiring.netlist, wiring_picture(done, drive).harness
        assert [w.id for w in net.leads] == [c.id for c in view.connections]
        drawn = {(p.id, pin.name): pin.net for p in view.parts for pin in p.pins}
        for c in view.connections:
            assert drawn[c.start_part, c.start_pin] == drawn[c.end_part, c.end_pin] == c.net or not c.fitted
        own = {c.id for c in drive.wiring.connections if c.signal != "ground"}
        assert own <= {c.own for c in view.connections if c.mine}, "every wire of the drive is in the build's"


@EVERY
def test_supply_and_ground_are_apart_and_fuses_come_first(name: str) -> None:
    done = DONE[name]
    net = net_of(done)
    for source in done.build.supply.sources:
        plus, minus = (Terminal(f"source {source.id}", pin) for pin in ("+", "−"))
        if plus not in net.net_of:
            continue
        assert net.net_of[minus].ground and not net.net_of[plus].ground
        if source.fuse.value is not None:
            assert {t.block for t in net.net_of[plus].pins} == {f"source {source.id}", f"fuse {source.id}"}


@EVERY
def test_grounds_make_a_star_without_a_loop(name: str) -> None:
    """As many leads as places to join, less one: a loop would lead a share of a motor's return through thin wire. All
    that the drives' own rows join is joined all the same."""
    done = DONE[name]
    net = net_of(done)
    leads = [w for w in net.leads if w.name == "ground"]
    places = {t for w in leads for t in (w.start, w.end)}
    grounds = {net.net_of[t].id for t in places}
    assert len(leads) == len(places) - len(grounds)
    assert len(grounds) == 1, "what the drives' own rows join is one ground still"


def test_two_drives_share_what_they_share() -> None:
    """Four wheels on two sides of one kit: one source, one fuse, one lead between them, and its current is the sum."""
    done = DONE["05-two-wheel-base"]
    net = net_of(done)
    assert [p.kind for p in net.parts.values()].count("source") == 1
    feeds = [w for w in net.wires if w.start == Terminal("source s1", "+")]
    assert len(feeds) == 1 and len(feeds[0].own) == len(done.build.driven) == 2
    each = [d.driven.scene.wires.feeding.value for d in done.drives.values() if d.driven is not None]
    assert sum(c.value for c in feeds[0].currents if c.value is not None) == pytest.approx(sum(x or 0 for x in each))


# What a solver that knows nothing of the product makes of the netlist -------------------------------------------------
OHM_PER_M = {12: 5.211e-3, 14: 8.286e-3, 18: 20.95e-3, 20: 33.31e-3, 24: 84.22e-3}
"""NBS Handbook 100, copper wire tables: ohms a metre at 20 °C (from memory)."""
HOT = 0.00393


def circuit_of(done: Assessment, closed: dict[str, float], motor_ohm: float, brush_v: float) -> Circuit:
    """The netlist as a circuit: leads by their ohms, ``closed`` parts by theirs (first pin to last but gate), the motor
    jammed, the source full."""
    net, build = net_of(done), done.build
    made = Circuit()

    def node(t: Terminal) -> str:
        return "0" if t == Terminal("source s1", "−") else f"{t.block}|{t.pin}"

    for w in (w for w in net.wires if w.fitted):
        ohm = OHM_PER_M[int(w.gauge)] * w.length_m if w.gauge and w.length_m and not w.short else 1e-5
        made.resistor(node(w.start), node(w.end), max(ohm, 1e-5))
    for one in net.nets:
        made.resistor(node(one.pins[0]), "0", 1e7)
    source = build.supply.sources[0]
    made.source("emf", "0", 14.6 if source.name.startswith("Four") else 42.0)
    assert source.resistance.value is not None
    made.resistor("emf", node(Terminal("source s1", "+")), source.resistance.value)
    made.resistor(node(Terminal("fuse s1", "in")), node(Terminal("fuse s1", "out")), 1e-5)
    for part, ohm in closed.items():
        a, b = part.split(" to ")
        made.resistor(a, b, ohm)
    made.resistor(node(Terminal("motor d1", "M+")), "brush", motor_ohm)
    made.source("brush", node(Terminal("motor d1", "M−")), brush_v)
    return made


@pytest.mark.parametrize("demo", ["carousel", "stirrer"])
def test_a_solver_finds_the_stall_current_of_the_sheet_in_the_netlist(demo: str) -> None:
    """Jammed, full duty, the pack full, the winding at the coldest air. What flows is what the sheet says, and what
    drops in the wires between source and driver is what they have."""
    done = DONE[demo]
    drive = done.drives["d1"].driven
    assert drive is not None
    motor = drive.context.of_motor
    assert motor is not None
    cold, at25 = done.build.ambient.cold.value, motor.motor.resistance_25.value
    assert cold is not None and at25 is not None
    winding = at25 * (1 + HOT * (cold - 25))
    stall = drive.circuit.stall_full
    brush = stall.inputs[2].value
    assert isinstance(brush, float) and stall.value is not None
    if demo == "carousel":
        part = drive.context.part
        assert part is not None and part.on_resistance.value is not None
        half = part.on_resistance.value / 2
        closed = {"unit u1|V+ to unit u1|OUT 1": half, "unit u1|OUT 2 to unit u1|GND": half}
    else:
        one = 11e-3 / 3
        closed = {
            "unit u1/Guard|D to unit u1/Guard|S": 1e-6,
            "unit u1/Q high|D to unit u1/Q high|S": one,
            "unit u1/Shunt|1 to unit u1/Shunt|2": 2e-3,
        }
    found = circuit_of(done, closed, winding, brush).run(1e-3, 1e-4)
    amps = (found.v("motor d1|M+") - found.v("brush"))[-1] / winding
    assert amps == pytest.approx(stall.value, rel=0.01)
    for pin in ("V+", "GND"):
        ends = ("fuse s1|out", "unit u1|V+") if pin == "V+" else ("unit u1|GND", "0")
        lead = drive.context.unit.supply_run
        ohm = OHM_PER_M[int(lead.gauge.value or 0)] * (lead.length.value or 0)
        drop = found.v(ends[0])[-1] - (found.v(ends[1])[-1] if ends[1] != "0" else 0.0)
        assert drop == pytest.approx(amps * ohm, rel=0.02)


@EVERY
def test_an_ohmmeter_reads_what_the_solver_finds(name: str) -> None:
    """One ampere from net to net through all resistors and windings at rest: the volts are the ohms."""
    net = net_of(DONE[name])
    said = resistances(net)
    for (one, other), ohms in list(said.items())[:4]:
        circuit = Circuit()
        for part in net.parts.values():
            for a, b, value in part.ohms:
                ends = [net.net_of.get(Terminal(part.id, pin)) for pin in (a, b)]
                if ends[0] and ends[1] and ends[0] is not ends[1]:
                    names = ["0" if n.id == other else n.id for n in ends if n]
                    circuit.resistor(names[0], names[1], max(value, 1e-3) / part.each)
        circuit.feed("0", one, 1.0)
        assert circuit.run(1e-3, 1e-4).v(one)[-1] == pytest.approx(ohms, rel=1e-3)


# The lists that read it -----------------------------------------------------------------------------------------------
def test_what_beeps_and_what_must_not() -> None:
    """In the stirrer OUT 2 goes to ground through the shunt's 2 mΩ, and OUT 1 through winding and shunt: both beep and
    are no short. Supply and ground must be silent, though the capacitor between them beeps for a moment."""
    found = {p.id: p for p in probes(net_of(DONE["stirrer"]))}
    low = found["apart:ground|Motor −"]
    assert low.must == "reads" and low.says.startswith("2 mΩ")
    assert found["apart:ground|Motor +"].must == "reads" and "308 mΩ" in found["apart:ground|Motor +"].says
    short = found["apart:ground|Supply, fused"]
    assert short.must == "silent" and "beeps while it charges" in short.says
    assert found["apart:ground|Supply"].must == "silent"
    # A low-side switch has the motor's plus on the supply itself: there is nothing to tell apart.
    assert not any("Motor +" in p.id for p in probes(net_of(DONE["fan"])) if p.id.startswith("apart"))


@EVERY
def test_every_lead_and_every_small_part_has_its_place_in_the_work(name: str) -> None:
    net = net_of(DONE[name])
    steps = assembly(net)
    order = [s.id for s in steps]
    wired = [s for s in steps if s.id.startswith("step:wire")]
    assert sum(len(s.items) for s in wired) == sum(1 for w in net.leads if w.fitted)
    small = {p.kind for p in net.parts.values() if p.on}
    assert small - {s.id.removeprefix("step:") for s in steps} <= {"device", "regulator", "driver", "heat sink"}
    assert len(set(order)) == len(order) and order[-1] == "step:source"
    ground = order.index("step:wire:ground")
    assert all(order.index(x) > ground for x in ("step:wire:power", "step:wire:motor") if x in order)
    if {"step:resistor", "step:transistor"} <= set(order):
        assert order.index("step:resistor") < order.index("step:transistor") < ground


def test_bands_are_told_both_ways() -> None:
    """10 kΩ of 1 % is brown black black red brown (IEC 60062); from the other end brown red black black: 120 Ω."""
    items = [x for s in assembly(net_of(DONE["stirrer"])) for x in s.items if "Gate to source" in x.what]
    assert items[0].bands == ("brown", "black", "orange", "gold")
    assert items[0].fine == ("brown", "black", "black", "red", "brown")
    assert items[0].back == "120 Ω"


@EVERY
def test_the_bill_counts_what_the_netlist_has(name: str) -> None:
    done = DONE[name]
    net = net_of(done)
    found = bill(done.build, net)
    boards = {p.on for p in net.parts.values() if p.on}
    counted = [p for p in net.parts.values() if p.kind not in ("line", "link", "panel")]
    counted = [p for p in counted if not (p.kind == "driver" and p.id in boards)]
    assert sum(x.number for x in found.lines if x.unit != "m") == sum(p.each for p in counted)
    rows = list(csv.reader(io.StringIO(to_csv(found))))
    assert len(rows) == 2 + len(found.lines) + bool(found.boards)
    for row, line in zip(rows[1:], found.lines, strict=False):
        assert (row[5] == "") == (line.each is None), "an unknown price stays empty, and is not nothing"
    assert found.known == pytest.approx(sum(x.price for x in found.lines if x.price is not None) + found.boards)


def test_an_unknown_price_is_not_nothing() -> None:
    build = lantern_carousel()
    assert build.units[0].part is not None
    build.units[0].part.price = Given(text="")
    done = assess(build)
    line = next(x for x in bill(build, net_of(done)).lines if x.what.startswith("MOSFET bridge"))
    assert line.each is None


def test_the_netlist_goes_out_as_a_table() -> None:
    net = net_of(DONE["stirrer"])
    rows = list(csv.DictReader(io.StringIO(netlist_csv(net))))
    assert len(rows) == sum(len(p.pins) for p in net.parts.values())
    gate = next(r for r in rows if r["part"] == "Q high" and r["pin"] == "G")
    assert gate["net"] == "Gate high" and gate["current_a"] == ""
    motor = next(r for r in rows if r["pin"] == "OUT 1")
    assert float(motor["track_width_mm"]) == pytest.approx(width_mm(float(motor["current_a"])), abs=0.02)
    # IPC-2221, outer layer, 20 K, 35 µm: 5 A take 2.7 mm (its chart, from memory).
    assert width_mm(5.0) == pytest.approx(1.78, rel=0.06)


def test_what_is_left_out_is_in_no_net_and_what_is_ticked_is_made() -> None:
    build = lantern_carousel()
    build.drives[0].wiring.left_out = ["signal:DIR"]
    build.made = ["source s1:+ > fuse s1:in"]
    net = net_of(assess(build))
    (left,) = [w for w in net.wires if not w.fitted]
    assert left.name == "DIR" and left.start in net.unused and left.end in net.unused
    assert [w.id for w in net.wires if w.made] == build.made


def test_the_order_of_the_drives_changes_no_supply() -> None:
    """Drives told in another order may get other pins; what feeds and grounds them stays the same."""
    build = puppet_stage()
    pins = {t.pin for t in net_of(assess(build)).net_of if t.block.startswith("controller")}

    def fed(done: Assessment) -> set[frozenset[Terminal]]:
        nets = (frozenset(t for t in n.pins if t.pin not in pins) for n in net_of(done).nets if n.role != "signal")
        return {n for n in nets if n}

    wanted = fed(assess(build))
    random.Random(1).shuffle(build.drives)
    assert fed(assess(build)) == wanted


def test_colours_of_a_controllers_signals_differ_as_long_as_there_are_colours() -> None:
    for name in ("carousel", "stirrer", "puppets"):
        net = net_of(DONE[name])
        colours = [w.colour for w in net.leads if w.role == "signal"]
        assert len(set(colours)) == len(colours)
        assert all(a.partition(",")[0] != b.partition(",")[0] for a, b in itertools.pairwise(colours))


# A kit's list ---------------------------------------------------------------------------------------------------------
def test_a_kits_list_is_enough_for_the_order_of_work() -> None:
    steps = assembly(kit("R1, R2: 4k7\nC1: 100n\nC2: 470u\nD1: 1 A\nIC1: driver\nQ1: small\nLED1: green"))
    order = [s.id.removeprefix("step:") for s in steps]
    assert order == ["bare", "resistor", "diode", "gate driver", "lamp", "capacitor", "transistor"]
    by = {s.id: s for s in steps}
    assert by["step:resistor"].items[0].bands == ("yellow", "violet", "red", "gold")
    film, electrolytic = by["step:capacitor"].items
    assert not film.mark and "stripe" in electrolytic.mark


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "Give the list"),
        ("R1: tall", "R1: tall"),
        ("R1, R1: 10k", "R1 stands in the list twice"),
        ("X9: 3", "is no part"),
        ("R1: 0", "above zero"),
        ("C1: 10k", "not a capacitance"),
        ("\n".join(f"R{k}: 1k" for k in range(201)), "200 lines"),
    ],
)
def test_a_line_that_cannot_be_read_is_named(text: str, says: str) -> None:
    with pytest.raises(KitError, match=says):
        kit(text)


@given(st.text(max_size=200))
def test_no_text_makes_a_kit_fail_in_any_other_way(text: str) -> None:
    with contextlib.suppress(KitError):
        assembly(kit(text))
