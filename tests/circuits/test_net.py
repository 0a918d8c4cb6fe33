"""The nodal solver held against closed forms and python-control, before anything is held against it."""

from __future__ import annotations

import control
import numpy as np
import pytest
from scipy.special import lambertw

from .net import THERMAL_V, Net


def test_a_capacitor_charges_through_a_resistor() -> None:
    net = Net()
    net.source("in", "0", 5.0)
    net.resistor("in", "out", 1e3)
    net.capacitor("out", "0", 1e-6)
    found = net.run(3e-3, 5e-6)
    assert found.v("out") == pytest.approx(5 * (1 - np.exp(-found.t / 1e-3)), abs=2e-3)


@pytest.mark.parametrize(("ohm", "farad"), [(0.5, 1e-6), (20.0, 1e-6), (3.0, 47e-6)])
def test_a_step_into_r_l_c_is_pythons_controls(ohm: float, farad: float) -> None:
    henry = 10e-6
    net = Net()
    net.source("in", "0", 12.0)
    net.resistor("in", "a", ohm)
    net.inductor("a", "out", henry)
    net.capacitor("out", "0", farad)
    end = 30 * np.sqrt(henry * farad)
    found = net.run(end, end / 6000)
    system = control.TransferFunction([12.0], [henry * farad, ohm * farad, 1.0])
    at = np.linspace(0, end, 600)
    _, wanted = control.step_response(system, T=at)
    assert np.interp(at, found.t, found.v("out")) == pytest.approx(wanted, abs=0.02)


def test_energy_of_a_loss_free_ring_stays() -> None:
    """L-stable methods damp what they do not resolve; at 600 steps a turn less than 0.5 % goes in five turns."""
    net = Net()
    net.capacitor("a", "0", 1e-6, volts=10.0)
    net.inductor("a", "0", 1e-6, "L")
    turn = 2 * np.pi * 1e-6
    found = net.run(5 * turn, turn / 600)
    energy = 0.5e-6 * found.v("a") ** 2 + 0.5e-6 * found.i("L") ** 2
    assert energy[-1] == pytest.approx(energy[0], rel=5e-3)


@pytest.mark.parametrize("volts", [0.5, 5.0, 48.0])
def test_a_diode_and_a_resistor_are_lamberts_w(volts: float) -> None:
    """I R + V_T ln(1 + I/I_s) = V: T. Banwell and A. Jayakumar 2000."""
    ohm, sat = 100.0, 1e-9
    net = Net()
    net.source("in", "0", volts)
    net.resistor("in", "a", ohm)
    net.diode("a", "0", sat)
    found = net.run(1e-6, 1e-7)
    z = ohm * sat / THERMAL_V * np.exp((volts + ohm * sat) / THERMAL_V) if volts < 10 else None
    current = (volts - found.v("a")[-1]) / ohm
    if z is not None and np.isfinite(z):
        assert current == pytest.approx(THERMAL_V / ohm * lambertw(z).real - sat, rel=1e-5)
    assert current * ohm + THERMAL_V * np.log1p(current / sat) == pytest.approx(volts, rel=1e-6)


def test_a_transistor_in_saturation_and_fully_on() -> None:
    """½ k (V_g − V_t)² = 1 A; at a small drain voltage a resistance of 1/(k (V_g − V_t)) = 0.5 Ω."""
    net = Net()
    net.source("g", "0", 4.0)
    net.source("d", "0", 20.0, "I_d")
    net.mosfet("d", "g", "0", 0.5, 2.0)
    assert -net.run(1e-6, 1e-7).i("I_d")[-1] == pytest.approx(1.0, rel=1e-6)
    net = Net()
    net.source("g", "0", 6.0)
    net.source("in", "0", 1e-3, "I_d")
    net.mosfet("in", "g", "0", 0.5, 2.0)
    assert -net.run(1e-6, 1e-7).i("I_d")[-1] == pytest.approx(1e-3 / 0.5, rel=1e-3)


def test_a_switch_is_met_exactly_and_a_coil_keeps_its_current() -> None:
    """1 V on 1 mH for 1 ms: 1 A, then down through 1 Ω with 1 ms."""
    net = Net()
    net.source("in", "0", 1.0)
    net.switch("in", "a", lambda t: t < 1e-3, 1e-6)
    net.switch("a", "0", lambda t: t >= 1e-3, 1e-6)
    net.inductor("a", "b", 1e-3, "L")
    net.switch("b", "0", lambda t: t < 1e-3, 1e-6, 1.0)
    net.events = [1e-3]
    found = net.run(3e-3, 1e-6)
    assert found.i("L").max() == pytest.approx(1.0, rel=1e-3)
    assert np.interp(2e-3, found.t, found.i("L")) == pytest.approx(np.exp(-1), rel=2e-3)
