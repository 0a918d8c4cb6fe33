"""Motor circuits: what the laws and the simulation say of them, held against the nodal solver.

Each test is one or several circuits as they are drawn; the tolerance stands beside the reason for it.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest

from zinc_whistle.core.laws import capacitor as capacitor_laws
from zinc_whistle.core.laws import driver as driver_laws
from zinc_whistle.core.laws import motor as motor_laws
from zinc_whistle.core.laws import signals as signal_laws
from zinc_whistle.core.laws import stage as stage_laws
from zinc_whistle.core.laws import supply as supply_laws
from zinc_whistle.core.laws import switch as switch_laws
from zinc_whistle.core.laws.chopper import Chopper, chopped
from zinc_whistle.core.simulation.engine import Engine, Phase
from zinc_whistle.core.simulation.plant import OMEGA, I, Plant

from .net import Net, Trace


def pulsed(duty: float, hertz: float, periods: int, net: Net) -> Callable[[float], bool]:
    """Whether a PWM is on; its edges become events of the circuit."""
    net.events += [(n + d) / hertz for n in range(periods + 1) for d in (0.0, duty)]
    return lambda t: (t * hertz) % 1.0 < duty


def one_switch(V: float, E: float, R: float, L: float, D: float, f: float, V_d: float, periods: int) -> Trace:
    net = Net()
    net.source("bus", "0", V)
    on = pulsed(D, f, periods, net)
    net.switch("bus", "m", on)
    net.knee("0", "m", V_d)
    net.inductor("m", "a", L, "L")
    net.resistor("a", "b", R)
    # The EMF of a motor that stands in the circuit: the diode keeps the current from turning round.
    net.source("b", "0", E)
    return net.run(periods / f, 1 / f / 400)


@pytest.mark.parametrize(
    ("values", "periods"),
    [
        ((12.0, 4.0, 1.2, 1e-3, 0.6, 2e3, 0.7), 8),
        ((12.0, 6.0, 1.2, 0.3e-3, 0.35, 1e3, 0.7), 3),
        ((24.0, 20.0, 2.0, 0.5e-3, 0.9, 3e3, 0.4), 6),
        ((6.0, 1.0, 8.0, 2e-3, 0.2, 200.0, 0.5), 3),
    ],
    ids=["never ends", "ends in each period", "fast motor, ends", "slow pulses"],
)
def test_the_chopped_current_of_one_switch(values: tuple[float, ...], periods: int) -> None:
    """Mean and RMS within 1 %, peak within 1 %: the diode's knee of a few millivolts is in the circuit alone."""
    V, E, R, L, D, f, V_d = values
    ours = chopped(Chopper(V=V, E=E, R=R, L=L, f=f, V_d=V_d), D)
    found = one_switch(V=V, E=E, R=R, L=L, D=D, f=f, V_d=V_d, periods=periods + int(8 * L / R * f))
    last = found.t[-1] - 1 / f
    current = found.i("L")
    assert ours.mean_a == pytest.approx(found.mean(current, last), rel=0.01, abs=2e-3)
    assert ours.rms_a == pytest.approx(found.rms(current, last), rel=0.01, abs=2e-3)
    assert ours.peak_a == pytest.approx(current[found.t >= last].max(), rel=0.01)


def bridge(decay: str, V: float, E: float, R: float, L: float, D: float, f: float, periods: int) -> Trace:
    """Four switches; ``slow`` shorts the motor while off, ``locked`` turns the volts round, ``fast`` opens all of them
    and lets the diodes carry the current back into the supply."""
    net = Net()
    net.source("bus", "0", V)
    on = pulsed(D, f, periods, net)
    ways = {
        "slow": (on, lambda t: True, lambda t: not on(t), lambda t: False),
        "locked": (on, on, lambda t: not on(t), lambda t: not on(t)),
        "fast": (on, on, lambda t: False, lambda t: False),
    }[decay]
    net.switch("bus", "p", ways[0])
    net.switch("n", "0", ways[1])
    net.switch("p", "0", ways[2])
    net.switch("bus", "n", ways[3])
    if decay == "fast":
        net.knee("0", "p", 0.7)
        net.knee("n", "bus", 0.7)
        net.knee("0", "n", 0.7)
        net.knee("p", "bus", 0.7)
    net.inductor("p", "a", L, "L")
    net.resistor("a", "b", R)
    net.source("b", "n", E)
    return net.run(periods / f, 1 / f / 400)


@pytest.mark.parametrize(("decay", "duty", "hertz"), [("slow", 0.5, 5e3), ("slow", 0.8, 1e3), ("locked", 0.75, 5e3)])
def test_the_ripple_of_a_bridge(decay: str, duty: float, hertz: float) -> None:
    """Exact law against exact circuit: 1 % is the switches' milliohms and the sampling of the peak."""
    V, R, L = 12.0, 1.5, 0.8e-3
    found = bridge(decay=decay, V=V, E=3.0, R=R, L=L, D=duty, f=hertz, periods=int(8 * L / R * hertz) + 3)
    last = found.i("L")[found.t >= found.t[-1] - 1 / hertz]
    swing = V if decay == "slow" else 2 * V
    assert signal_laws.ripple.bare(swing, R, duty, hertz, L) == pytest.approx(last.max() - last.min(), rel=0.01)


# Its speed hardly moves within the pulses that are looked at.
PLANT = Plant(
    resistance_ohm=1.5,
    inductance_h=0.3e-3,
    constant=0.02,
    inertia=1.0,
    coulomb_nm=0.0,
    viscous=0.0,
    load_nm=0.0,
    stiction_nm=0.0,
    source_v=12.0,
    source_ohm=1e-6,
    bus_f=1.0,
    sinks=True,
)


@pytest.mark.parametrize(("duty", "hertz", "emf"), [(0.5, 1e3, 4.0), (0.7, 2e3, 2.0), (0.3, 500.0, 6.0)])
def test_fast_decay_in_the_simulation(duty: float, hertz: float, emf: float) -> None:
    """The current falls through two diodes against the supply, to nothing in each period. 1 %."""
    periods = int(8 * 0.2e-3 * hertz) + 4
    found = bridge(decay="fast", V=12.0, E=emf, R=1.5, L=0.3e-3, D=duty, f=hertz, periods=periods)
    engine = Engine(PLANT)
    x = engine.rest()
    x[OMEGA] = emf / 0.02
    run = engine.run([Phase(periods, 1 / hertz, duty, "forward", "off")], x)
    t, states = run.arrays()
    last, begun = t >= t[-1] - 1 / hertz, found.t[-1] - 1 / hertz
    wanted = found.i("L")
    assert states[last, I].max() == pytest.approx(wanted[found.t >= begun].max(), rel=0.01)
    ended = t[last][np.flatnonzero(states[last, I] > 1e-9)[-1] + 1] - begun
    assert ended == pytest.approx(found.first(wanted, 1e-3, begun + duty / hertz) - begun, rel=0.01)


def spinning(
    volts: float, *, R: float, L: float, K: float, J: float, until: float, omega: float = 0.0, steps: float = 0.2
) -> Trace:
    """A motor on a switch: its inertia is a capacitor of J/K² behind resistance and inductance."""
    net = Net()
    net.source("bus", "0", volts)
    net.inductor("bus", "a", L, "L")
    net.resistor("a", "emf", R)
    net.capacitor("emf", "0", J / K**2, volts=omega * K)
    return net.run(until, steps * L / R)


def test_a_start_at_full_duty() -> None:
    """Time to 63 % of the speed is R J/K² where the electrical time is short: 1 %; the peak is below the stall."""
    R, L, K, J = 1.5, 50e-6, 0.02, 2e-5
    found = spinning(12.0, R=R, L=L, K=K, J=J, until=0.15)
    constant = motor_laws.mechanical_time_constant.bare(R, J, K)
    assert found.first(found.v("emf"), 12.0 * (1 - math.exp(-1))) == pytest.approx(constant, rel=0.01)
    stall = motor_laws.stall_current.bare(12.0, 0.0, R)
    assert 0.97 * stall < found.i("L").max() <= stall


def test_a_slammed_reversal() -> None:
    """From free running the EMF stands beside the supply: (V + K ω)/R, less what L takes of it. 3 %."""
    R, L, K, J = 1.5, 30e-6, 0.02, 1e-4
    found = spinning(-12.0, R=R, L=L, K=K, J=J, until=0.02, omega=11.5 / K)
    ours = driver_laws.reversal_in_circuit.bare(V_oc=12.0, V_0=0.0, V_b=0.0, R=R, K_e=K, omega=11.5 / K)
    assert -found.i("L").min() == pytest.approx(ours, rel=0.03)
    assert -found.i("L").min() <= ours


def test_braking_shorted() -> None:
    """K ω/R at once, and what is stored ends in the winding: ½ J ω². 3 %."""
    R, L, K, J, omega = 1.5, 30e-6, 0.02, 1e-4, 500.0
    found = spinning(0.0, R=R, L=L, K=K, J=J, until=1e-3, omega=omega)
    ours = driver_laws.braking_in_circuit.bare(K, omega, 0.0, 0.0, R)
    assert -found.i("L").min() == pytest.approx(ours, rel=0.03)
    found = spinning(0.0, R=R, L=L, K=K, J=J, until=1.5, omega=omega, steps=5.0)
    heat = found.energy(found.i("L") ** 2 * R)
    assert heat == pytest.approx(supply_laws.stored_energy.bare(J, omega), rel=0.03)


def test_braking_at_a_constant_current_gives_this_much_back() -> None:
    """A motor pulled at i: what reaches the terminals until the EMF no longer exceeds i R. 2 %."""
    R, K, J, omega, i = 1.0, 0.02, 1e-4, 800.0, 4.0
    net = Net()
    net.capacitor("emf", "0", J / K**2, volts=K * omega)
    net.resistor("emf", "out", R)
    net.feed("out", "0", i)
    found = net.run(1.0, 1e-4)
    out = found.v("out")
    back = found.energy(np.where(out > 0, out * i, 0.0))
    assert supply_laws.returned_energy.bare(J, omega, i, R, K) == pytest.approx(back, rel=0.02)


@pytest.mark.parametrize("omega", [600.0, 1500.0])
def test_all_that_turns_into_the_bulk_capacitor_is_the_upper_bound(omega: float) -> None:
    """A bridge that boosts a braked motor's volts onto a bus whose source does not sink: the bus never passes
    √(V² + 2E/C), yet rises by volts: winding and speed keep their share."""
    V, C, R, L, K, J = 12.0, 2000e-6, 0.3, 0.4e-3, 0.02, 8e-5
    net = Net()
    net.source("battery", "0", V)
    net.knee("battery", "bus", 0.0)
    net.capacitor("bus", "0", C, volts=V)
    net.capacitor("emf", "0", J / K**2, volts=K * omega)
    net.resistor("emf", "a", R)
    net.inductor("a", "p", L, "L")
    on = pulsed(0.5, 4e3, 400, net)
    net.switch("p", "0", on)
    net.knee("p", "bus", 0.0)
    found = net.run(0.05, 5e-6)
    bound = supply_laws.risen_voltage.bare(V, supply_laws.stored_energy.bare(J, omega), C)
    top = found.v("bus").max()
    assert V + 5 < top <= bound


@pytest.mark.parametrize(("emf", "lifted"), [(11.9, False), (18.0, True)])
def test_coasting_through_diodes_lifts_nothing_beyond_the_emf(emf: float, lifted: bool) -> None:
    """A motor that coasts feeds the bus only while its EMF is above it and two diodes. No EMF of a motor's own working
    is; a load that drags it to 18 V within 20 ms lifts the bus to less than 18 V and no further."""
    net = Net()
    net.source("battery", "0", 12.0)
    net.diode("battery", "bus")
    net.capacitor("bus", "0", 100e-6, volts=11.5)
    net.source("emf", "n", lambda t: emf * min(t / 0.02, 1.0))
    net.resistor("emf", "a", 1.0)
    net.inductor("a", "p", 0.5e-3, "L")
    net.capacitor("p", "0", 1e-9)
    net.capacitor("n", "0", 1e-9)
    net.diode("p", "bus")
    net.diode("0", "n")
    net.events = [0.02]
    top = net.run(0.03, 1e-5).v("bus").max()
    assert top < 12.0 if not lifted else 16.0 < top < 18.0


@pytest.mark.parametrize(("lead_ohm", "micro"), [(0.02, 10.0), (0.1, 100.0), (1.2, 10.0)])
def test_plugged_in_live(lead_ohm: float, micro: float) -> None:
    """A step through the lead into the capacitor; exact, 1 %. The last is damped and does not ring."""
    henry, farad = 2e-6, micro * 1e-6
    net = Net()
    net.source("in", "0", 24.0)
    net.resistor("in", "a", lead_ohm)
    net.inductor("a", "bus", henry)
    net.capacitor("bus", "0", farad)
    end = 12 * math.sqrt(henry * farad)
    found = net.run(end, end / 4000)
    damping = supply_laws.lead_damping.bare(lead_ohm, farad, henry)
    ours = supply_laws.plug_in_peak.function(24.0, damping)
    assert ours == pytest.approx(max(found.v("bus").max(), 24.0), rel=0.01)


def test_a_relays_current_dies_in_its_diode() -> None:
    """L/R ln(1 + I R/V_F), within 3 % of the time to a hundredth of the current and a little less."""
    L, R, current, drop = 2e-3, 3.0, 4.0, 0.8
    net = Net()
    net.inductor("a", "b", L, "L", current)
    net.resistor("b", "c", R)
    net.knee("c", "a", drop)
    net.resistor("a", "0", 1.0)
    found = net.run(6e-3, 2e-6)
    ours = switch_laws.current_decay.bare(L, R, current, drop)
    assert found.first(found.i("L"), current / 100) == pytest.approx(ours, rel=0.06)
    assert found.first(found.i("L"), current / 100) < ours


@pytest.mark.parametrize(
    ("duty", "hertz", "lead_henry", "source_ohm"), [(0.5, 20e3, 2e-6, 0.05), (0.3, 20e3, 1e-6, 0.1)]
)
def test_the_bus_capacitors_ripple(duty: float, hertz: float, lead_henry: float, source_ohm: float) -> None:
    """The current and the volts that the capacitor takes where lead and source keep the pulses out: 10 %, since a
    little still comes through the lead."""
    load, farad, esr = 5.0, 470e-6, 0.05
    net = Net()
    net.source("in", "0", 24.0)
    net.resistor("in", "a", source_ohm)
    net.inductor("a", "bus", lead_henry, "lead", load * duty)
    net.resistor("bus", "c", esr)
    net.capacitor("c", "0", farad, volts=24.0 - source_ohm * load * duty)
    periods = 60
    on = pulsed(duty, hertz, periods, net)
    net.feed("bus", "0", lambda t: load if on(t) else 0.0)
    found = net.run(periods / hertz, 1 / hertz / 100)
    last = found.t[-1] - 10 / hertz
    through = (found.v("bus") - found.v("c")) / esr
    ripple = found.rms(through - found.mean(through, last), last)
    assert capacitor_laws.ripple_current.bare(1.0, load, duty) == pytest.approx(ripple, rel=0.1)
    bus = found.v("bus")[found.t >= last]
    asked = capacitor_laws.capacitance_needed.bare(1.0, load, duty, hertz, float(bus.max() - bus.min()))
    assert asked < farad, "what the law asks for that ripple is less than what is there: its own resistance adds to it"


def test_a_flyback_diodes_mean_and_its_drop_over_the_supply() -> None:
    """(1 − D) of the current, and the switch sees the supply and one drop: 3 % (the ripple is not quite straight)."""
    V, R, L, D, f = 12.0, 2.0, 5e-3, 0.4, 2e3
    periods = int(8 * L / R * f) + 3
    found = one_switch(V=V, E=0.0, R=R, L=L, D=D, f=f, V_d=0.7, periods=periods)
    last = found.t[-1] - 1 / f
    current = found.i("L")
    mean = found.mean(current, last)
    off = np.where((found.t * f) % 1.0 >= D, current, 0.0)
    assert stage_laws.diode_mean.bare(mean, 1 - D) == pytest.approx(found.mean(off, last), rel=0.03)
    assert (V - found.v("m")).max() == pytest.approx(V + 0.7, rel=0.01)


def test_a_current_cut_off_without_a_way_breaks_through_whatever_is_there() -> None:
    """No diode: 1 A in 1 mH against 200 pF would rise to I √(L/C) = 2,236 V. The law of ringing says the same."""
    net = Net()
    net.source("bus", "0", 12.0)
    net.inductor("bus", "drain", 1e-3, "L", 1.0)
    net.capacitor("drain", "0", 200e-12, volts=0.0)
    found = net.run(2e-6, 1e-9)
    ours = stage_laws.ringing.bare(12.0, 1e-3, 1.0, 200e-12, 1e-12)
    assert found.v("drain").max() == pytest.approx(ours, rel=0.01)


def test_an_avalanche_takes_the_coils_energy_and_the_supplys() -> None:
    """½ L I² V_av/(V_av − V): a transistor that breaks down at 60 V on 24 V, 3 A in 2 mH. 3 %."""
    V, V_av, L, current = 24.0, 60.0, 2e-3, 3.0
    net = Net()
    net.source("bus", "0", V)
    net.inductor("bus", "drain", L, "L", current)
    net.capacitor("drain", "0", 1e-9, volts=0.0)
    net.knee("drain", "0", V_av)
    found = net.run(200e-6, 1e-7)
    broken = np.where(found.v("drain") > V_av - 1, found.v("drain") * np.maximum(found.i("L"), 0.0), 0.0)
    assert switch_laws.avalanche_energy.bare(L, current, V_av, V) == pytest.approx(found.energy(broken), rel=0.03)
