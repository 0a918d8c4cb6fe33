"""Twenty-four complete builds, each like one that a builder really makes, with the verdicts of an experienced one.

What stops a build is listed whole, a line of argument each: a stop too many refuses what works, one too few burns it.
``holds`` names checks that a builder would be right to expect to pass.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path

import pytest

from zinc_whistle.core.assess import Assessment, assess
from zinc_whistle.core.model.build import Build

from .kit import SHELF

FILES = sorted((Path(__file__).parent / "builds").glob("*.json"))
NO_JAM_STOP = "nothing acts in a jam, and a stalled winding of this size does not last"


@dataclass(frozen=True, slots=True)
class Expected:
    stops: Mapping[str, str]
    warns: Mapping[str, str] = field(default_factory=dict)
    holds: Mapping[str, str] = field(default_factory=dict)


EXPECTED: dict[str, Expected] = {
    "01-bridge-kit-and-two-toy-motors": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "driver.volts_low": "old bipolar bridges want their motor supply: flat cells at 4.4 V, less the sag",
            "supply.brown_out_start": "the logic hangs on the same four cells, which sag while both wheels start",
            "supply.r1.input_low": "5 V cannot come out of 4.4 V",
        },
        warns={"supply.s1.fused": "even alkaline cells give 10 A into a short"},
        holds={"driver.peak": "2 A parts bear a toy motor's stall behind 0.6 Ω of cells and two saturation drops"},
    ),
    "02-relay-pair-from-a-toy": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "driver.volts_low": "12 V relay coils do not pull in on six cells",
        },
        holds={
            "driver.reverses": "a relay pair turns a motor round",
            "stage.flyback": "the diode stands before the reversing contacts",
        },
    ),
    "03-drill-motor-with-its-own-transistor": Expected(
        stops={},
        holds={
            "stage.gate_low": "11 V from the flat battery drive a 10 V part fully on",
            "stage.gate_high": "13.8 V are below its 20 V",
            "stage.diode_heat": "a 30 A diode on the bar with the transistor",
            "driver.jam_winding": "a 15 A blade opens within seconds at some 60 A",
            "wiring.fuse_for_wire": "AWG 10 bears 15 A for good",
        },
    ),
    "04-drill-motor-straight-from-a-pin": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "stage.gate_on": "5 V on a part whose threshold may be 4 V: it is hardly on",
            "driver.pwm": "20 mA into 20 nC and more take microseconds: far too slow for 20 kHz",
            "stage.linear": "it stands in its linear region for a good part of each period",
            "stage.diode_surge": "a stall switched off throws all of it on the diode",
            "stage.diode_heat": "a tab diode without a sink",
        },
        holds={"stage.gate_high": "a 5 V pin harms no gate"},
    ),
    "05-two-wheel-base": Expected(
        stops={},
        holds={
            "wiring.pins": "two encoders on a small controller, the second on shared pin-change interrupts",
            "driver.peak": "7 A twin board for two small gear motors",
            "encoder.rate": "12 slots fourfold at some thousand turns a minute",
            "driver.jam_winding": "the program sees no counts within 0.3 s",
        },
    ),
    "06-balancing-base-that-slams": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "driver.peak": "a slammed reversal is nearly twice the stall on a 3 A board",
            "panel.direction": "the buttons turn it round under power",
        }
    ),
    "07-hoist": Expected(
        stops={
            "driver.jam_winding": "a 10 A blade may take ten minutes at 1.4 times its rating",
            "driver.jam_driver": "and so much longer than the module's peak",
        },
        warns={"load.runs_back": "a drum with an ordinary gear lets its load down without power"},
        holds={"load.speed": "8 kg on a 15 mm drum behind 50:1 are nothing to a wiper motor"},
    ),
    "08-sliding-gate": Expected(
        stops={
            "driver.jam_winding": "the same blade: too near to the stall to act",
            "driver.jam_driver": "the same blade",
        },
        holds={"load.speed": "20 kg on rollers behind 50:1"},
    ),
    "09-four-servos-on-a-linear-regulator": Expected(
        stops={
            "supply.r1.limit": "four stalled servos ask for 3.6 A of a 1 A regulator",
            "supply.r1.controller": "and it is the controller's own",
        },
        warns={"servo.timer": "two compare outputs for four servos"},
    ),
    "10-four-servos-on-a-step-down": Expected(
        stops={},
        warns={"servo.timer": "two compare outputs for four servos"},
        holds={"supply.r2.limit": "5 A for 3.6 A", "servo.volts_high": "5.5 V for servos of 6 V"},
    ),
    "11-pump": Expected(
        stops={},
        holds={
            "driver.peak": "1.2 A at the start on a 12 A switch",
            "supply.s1.limit": "1.2 A from 2 A",
        },
    ),
    "12-lamp-dimmer": Expected(
        stops={"supply.s1.limit": "a cold filament asks for ten times its 1.7 A of a 5 A supply"},
        holds={"driver.continuous": "1.7 A on a 12 A switch"},
    ),
    "13-solenoid-latch": Expected(stops={}, holds={"supply.s1.limit": "1 A from 2 A", "driver.heat": "0.4 A held"}),
    "14-fed-from-a-usb-port": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "supply.s1.limit": "2 A at the start from a port of 0.5 A",
            "supply.brown_out_start": "0.3 Ω and 2 A leave 4.1 V for a 5 V board",
            "supply.r1.input_low": "the same sag at the port's own rail",
        }
    ),
    "15-nine-volt-block": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "supply.brown_out_start": "2 Ω of block under a motor's start",
            "supply.r1.input_low": "and 7 V are needed for 5 V",
            "driver.peak": "an unramped start is a stall of more than 1.2 A peak",
        },
        warns={"supply.s1.fused": "a block into a short is 4 A"},
        holds={"driver.volts_absolute": "a motor that coasts before it turns round lifts no bus"},
    ),
    "16-e-wheel": Expected(
        stops={
            "driver.jam_named": "the program has no eyes: no encoder, no sense",
            "driver.volts_high": "ten cells are 42 V full on a 36 V board: the classic",
            "driver.peak": "a stalled hub motor behind 0.1 Ω",
        }
    ),
    "17-screw-lift": Expected(
        stops={},
        holds={
            "load.runs_back": "lead 2 mm on 10 mm with friction 0.15 holds itself: tan 3.6° < 0.15",
            "driver.jam_winding": "the program sees no counts within 0.3 s",
            "motor.heat": "a third of the torque it bears",
        },
    ),
    "18-logic-from-42-volts": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "supply.r1.input": "42 V into a regulator for 35 V",
            "supply.r1.heat": "37 V × 60 mA are 2.2 W without a sink",
            "driver.volts_high": "42 V on a 36 V board",
            "driver.peak": "a stalled hub motor behind 0.1 Ω",
        }
    ),
    "19-fan-on-a-knob": Expected(
        stops={"driver.jam_named": NO_JAM_STOP},
        holds={"driver.heat": "half an ampere on a 12 A switch", "load.speed": "2 mN·m are well within its reach"},
    ),
    "20-three-gates-on-one-resistor": Expected(
        stops={"driver.jam_named": NO_JAM_STOP},
        warns={"stage.tied": "gates tied together ring against each other"},
        holds={"stage.dead_time": "600 ns cover the turn-off", "stage.standoff": "75 V for a 42 V pack"},
    ),
    "21-p-and-n-bridge-on-24-volts": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "stage.upper_gate": "the P channel's gate sees 27.6 V and bears 20 V",
            "stage.miller_upper": "27.6 V in 25 ns lift the P channel's gate by 2.07 V behind 27 Ω, of 2 V",
        }
    ),
    "22-encoder-too-fast-to-poll": Expected(
        stops={"encoder.rate": "400 counts a turn at thousands of turns, looked at each 200 µs"},
        holds={"load.speed": "within its reach"},
    ),
    "23-thin-wire-behind-a-large-fuse": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "wiring.fuse_for_wire": "AWG 22 bears some 9 A, the blade lets 30 A through for ever",
            "wiring.short": "and a lead battery's hundreds of amperes burn it before the blade opens",
        },
        holds={"driver.continuous": "the drive itself is idle"},
    ),
    "24-no-diode-and-no-fuse": Expected(
        stops={
            "driver.jam_named": NO_JAM_STOP,
            "driver.diodes": "the current has nowhere to go at turn-off",
            "stage.flyback": "the same, at the stage",
        },
        warns={"supply.s1.fused": "a lead battery without a fuse"},
        holds={"stage.gate_low": "a logic-level part specified at 5 V on a 5 V pin, which a gate does not load"},
    ),
}


def worked(path: Path) -> Assessment:
    return assess(Build.model_validate(json.loads(path.read_text("utf-8"))), SHELF)


def test_there_are_twenty_four_and_each_has_its_verdicts() -> None:
    assert [f.stem for f in FILES] == list(EXPECTED) and len(FILES) == 24


@pytest.mark.parametrize("path", FILES, ids=[f.stem for f in FILES])
def test_the_verdicts_are_an_experienced_builders(path: Path) -> None:
    done, wanted = worked(path), EXPECTED[path.stem]
    assert not done.bound.errors
    assert {f.code for f in done.findings if f.severity == "stop"} == set(wanted.stops)
    assert {f.code for f in done.findings if f.severity == "warn"} >= set(wanted.warns)
    for code in wanted.holds:
        own = [f for f in done.findings if f.code == code]
        assert own, f"{code} is not asked"
        assert all(f.verdict in ("holds", "tight") for f in own), f"{code}: {[f.verdict for f in own]}"


@pytest.mark.parametrize("path", FILES, ids=[f.stem for f in FILES])
def test_what_is_shown_is_finite_of_possible_sign_and_of_a_size_that_can_be_read(path: Path) -> None:
    done = worked(path)
    for id, figure in done.figures.items():
        if figure.value is not None:
            assert abs(figure.value) < 1e12, id
    for f in done.findings:
        assert f.used is None or 0 <= f.used < 1e6, f"{f.code}: {f.used}"
