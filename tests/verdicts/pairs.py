"""For every limit a build that must trip it and its nearest neighbour that must not, with the arithmetic in words.

A row: the code, the build it stands on (a demo, or a file of ``builds`` by its number), what is changed so that it
trips, what so that it does not, and why there. The numbers are worked by hand from the build's own, to a few per cent.
"""

from __future__ import annotations

from typing import NamedTuple

U, D, S, R, C = "units.u1.", "drives.d1.", "supply.sources.s1.", "supply.regulators.r1.", "controllers.c1."
PART, STAGE = f"{U}part.", f"{U}stage."


class Pair(NamedTuple):
    code: str
    build: str
    trips: dict[str, str]
    holds: dict[str, str]
    because: str
    neighbour: str = ""
    """The build on which it does not trip, where that is another one."""
    vanishes: bool = False
    """The neighbour is not asked at all: there is nothing left to ask."""


def _at(code: str, build: str, path: str, trips: str, holds: str, because: str, **more: str) -> Pair:
    """A pair that differs in one text; ``more`` are changes of both, ``__`` for a dot."""
    both = {p.replace("__", "."): t for p, t in more.items()}
    return Pair(code, build, both | {path: trips}, both | {path: holds}, because)


SLACK_CAP = {"units__u1__bulk_esr": "5 mΩ", "units__u1__bulk_capacitance": "10 µF"}
FULL = "a pack of four lithium iron phosphate cells is 4 × 3.65 = 14.6 V full"

SHEET = (
    "4.5 V over 2.1 A are 2.14 Ω, so at 11,500 rpm K is (4.5 − 0.18 · 2.14)/1,204 = 3.42 mV·s and the stall "
    "3.42 m · 1.92 = 6.56 mN·m: the sheet says 7.0"
)

PAIRS = (
    # Driver
    _at("driver.volts_high", "carousel", f"{PART}v_max", "14.5 V", "14.7 V", because=FULL),
    _at(
        "driver.volts_absolute",
        "carousel",
        f"{PART}v_absolute",
        "14.5 V",
        "14.7 V",
        because=f"{FULL}, and it takes back",
    ),
    _at(
        "driver.volts_low", "carousel", f"{PART}v_min", "10.9 V", "10.6 V", because="10.8 V flat, less 0.47 A in 76 mΩ"
    ),
    _at(
        "driver.peak",
        "carousel",
        f"{PART}peak_a",
        "7.1 A",
        "7.5 A",
        because="14.6 V over 2 Ω of cold circuit are 7.3 A",
    ),
    _at(
        "driver.stall",
        "carousel",
        f"{PART}continuous_a",
        "7.1 A",
        "7.5 A",
        because="by the school that sizes for the stall those 7.3 A must be borne for good",
        schools__sizing="stall",
    ),
    _at("driver.continuous", "carousel", f"{PART}continuous_a", "0.59 A", "0.63 A", because="1.25 × 0.487 A = 0.608 A"),
    _at("driver.sense", "carousel", f"{C}sense_reference", "3.7 V", "3.9 V", because="7.27 A × 0.525 V/A = 3.82 V"),
    _at("driver.pwm", "carousel", f"{PART}pwm_limit", "19.9 kHz", "20.1 kHz", because="20 kHz are wanted"),
    _at("driver.logic", "carousel", f"{PART}input_high", "4.3 V", "4.1 V", because="the pin gives 4.2 V under load"),
    _at("driver.pin", "carousel", f"{PART}input_current", "21 mA", "19 mA", because="a pin gives 20 mA"),
    _at(
        "driver.speed",
        "carousel",
        f"{D}load.gear_ratio",
        "355",
        "335",
        because="12 rpm × 345 are 4,140 rpm, all it reaches",
    ),
    _at(
        "load.speed",
        "carousel",
        f"{D}load.gear_ratio",
        "355",
        "335",
        because="12 rpm × 345 are 4,140 rpm, all it reaches",
    ),
    _at(
        "driver.heat",
        "carousel",
        f"{PART}thermal_resistance",
        "620 K/W",
        "560 K/W",
        because="0.487² A² × 0.255 Ω hot, 14.6 V × quiescent and switching: 0.195 W; 115 K over 0.195 W are 590 K/W",
    ),
    _at(
        "driver.jam_driver",
        "carousel",
        f"{PART}peak_time",
        "390 ms",
        "410 ms",
        because="no counts for 400 ms, then it stops",
    ),
    _at(
        "driver.jam_winding",
        "carousel",
        f"{D}motor.winding_copper",
        "1.1 g",
        "1.3 g",
        because="7.4 s for the winding it has; 400 ms are an eighteenth, and so is 1.19 g of its copper",
    ),
    Pair("driver.jam_named", "carousel", {f"{U}jam_stop": "none"}, {}, "nothing is named / the program sees no counts"),
    Pair("driver.channel", "carousel", {f"{D}channel": "5"}, {f"{D}channel": "1"}, "there is no fifth channel"),
    Pair("driver.diodes", "carousel", {f"{PART}diodes": "no"}, {}, "without diodes the current has nowhere to go"),
    Pair(
        "driver.reverses",
        "carousel",
        {f"{PART}reverses": "no", f"{D}signals.reversal": "through zero"},
        {f"{D}signals.reversal": "through zero"},
        "a switch turns one way",
    ),
    Pair(
        "driver.brakes",
        "carousel",
        {f"{PART}brakes": "no", f"{D}signals.braking": "brake"},
        {f"{D}signals.braking": "brake"},
        "what cannot short the motor cannot brake it",
    ),
    Pair(
        "driver.takes_back",
        "carousel",
        {f"{S}sinks": "no", f"{U}bulk_capacitance": ""},
        {f"{S}sinks": "no"},
        "a ramp that comes down sends energy back: into a capacitor, or into nothing",
    ),
    _at(
        "driver.volts_got",
        "11",
        f"{D}load.needs_v",
        "11.7 V",
        "11.4 V",
        because="11.6 V flat, less 0.39 A in 0.2 Ω of supply, wires and switch",
    ),
    # Motor and load
    Pair("motor.known", "carousel", {f"{D}motor.no_load_v": "0.1 V"}, {}, "0.1 V are less than the resistance drops"),
    Pair(
        "motor.resistance_sure",
        "carousel",
        {"meters.m1.amps_share": "30 %"},
        {},
        "a meter of 30 % cannot tell a resistance to 10 %",
    ),
    Pair(
        "motor.sheet_resistance",
        "01",
        {},
        {f"drives.{d}.motor.sheet.stall_torque": "6.56 mN·m" for d in ("d1", "d2")},
        SHEET,
    ),
    Pair(
        "motor.sheet_constant",
        "01",
        {},
        {f"drives.{d}.motor.sheet.stall_torque": "6.56 mN·m" for d in ("d1", "d2")},
        SHEET,
    ),
    _at(
        "motor.heat",
        "carousel",
        f"{D}motor.housing_to_air",
        "135 K/W",
        "127 K/W",
        because="0.487 A against 1.38 A at 10 K/W",
    ),
    _at("motor.creep", "stirrer", f"{D}motor.breakaway_a", "40 A", "36 A", because="6,600 rpm × 0.3 mΩ of volts a rpm"),
    _at(
        "load.gear_jam",
        "carousel",
        f"{D}load.gear_torque_limit",
        "1.25 N·m",
        "1.35 N·m",
        because="it slips at 1.3 N·m first",
    ),
    _at(
        "load.gear",
        "carousel",
        f"{D}load.gear_torque_limit",
        "0.71 N·m",
        "0.75 N·m",
        because="0.73 N·m to get to speed",
    ),
    _at("load.slip", "carousel", f"{D}load.coupling_slip", "0.71 N·m", "0.75 N·m", because="0.73 N·m to get to speed"),
    _at(
        "load.starting_current",
        "carousel",
        f"{D}load.time_to_speed",
        "160 ms",
        "180 ms",
        because="0.24 A of run, and 0.45 A in 3 s: eighteen times as quick is 4.1 A, the stall from a flat pack",
    ),
    _at(
        "load.grip",
        "01",
        f"{D}load.mechanisms.m1.grip",
        "0.18",
        "0.21",
        because="0.57 N of 0.6 kg × g/2 on two of four wheels",
    ),
    Pair(
        "load.runs_back",
        "07",
        {},
        {f"{D}load.mechanisms.m1.counterweight": "8 kg"},
        "8 kg hang on a drum / a counterweight of as much holds them",
    ),
    _at(
        "load.over_speed",
        "07",
        f"{D}load.mechanisms.m1.mass",
        "12.2 kg",
        "11.2 kg",
        because="m · 9.81 · 15 mm · 0.6/39.2 mV·s − 1.3 A are 26.2 and 23.9 A, in 0.661 Ω hot 442 and 403 rad/s; it "
        "runs free at 13.8/39.2 m = 352, and a fifth more are 422",
        drives__d1__load__gear_ratio="1",
    ),
    _at("load.rating", "11", f"{D}load.rated_v", "11.2 V", "11.4 V", because="12.4 V are 1.1 × 11.27 V"),
    _at(
        "load.hold", "13", f"{D}load.hold_duty", "15 %", "25 %", because="common practice: a fifth of the current holds"
    ),
    # Supply
    _at(
        "supply.brown_out_start",
        "carousel",
        f"{R}dropout",
        "5.8 V",
        "5.7 V",
        because="10.8 V, less 0.69 A in 76 mΩ, over 5 V",
    ),
    _at(
        "supply.brown_out_jam",
        "carousel",
        f"{R}dropout",
        "5.5 V",
        "5.3 V",
        because="10.8 V, less 5.2 A in 76 mΩ, over 5 V",
    ),
    _at(
        "supply.*.input_low",
        "carousel",
        f"{R}dropout",
        "5.85 V",
        "5.7 V",
        because="the same flat pack with all that starts",
    ),
    _at("supply.*.input", "carousel", f"{R}input_max", "14.5 V", "14.7 V", because=FULL),
    _at("supply.*.heat", "carousel", f"{R}load", "215 mA", "200 mA", because="9.6 V × 208 mA = 2 W = 90 K over 45 K/W"),
    _at("supply.*.limit", "stirrer", f"{R}limit", "78 mA", "82 mA", because="80 mA of logic"),
    _at(
        "supply.*.fuse",
        "carousel",
        f"{S}fuse",
        "0.49 A",
        "0.51 A",
        because="0.375 A at work are 75 % of half an ampere",
    ),
    _at(
        "supply.*.switch",
        "carousel",
        f"{S}switch_dc",
        "0.79 A",
        "0.83 A",
        because="0.69 A at the start and the logic's 0.12 A",
    ),
    Pair("supply.*.window", "carousel", {f"{S}flat_v": "15 V"}, {f"{S}flat_v": "12.7 V"}, "flat above full"),
    Pair("supply.*.fused", "03", {f"{S}fuse": ""}, {}, "a lead battery without a fuse", vanishes=True),
    Pair(
        "supply.*.controller",
        "09",
        {},
        {f"drives.d{n}.servo.stall_a": "80 mA" for n in range(1, 5)},
        "four of 0.9 A / four of 80 mA on a controller's own 350 mA",
    ),
    Pair("supply.back_feed", "carousel", {"supply.lead_in": "yes"}, {}, "two supplies on one board", vanishes=True),
    _at(
        "supply.plug_in",
        "carousel",
        f"{PART}v_absolute",
        "23.5 V",
        "24.5 V",
        because="0.8 µH and 10 µF ring",
        **SLACK_CAP,
    ),
    _at(
        "supply.fuse_start",
        "carousel",
        f"{S}fuse",
        "0.5 A",
        "0.55 A",
        because="0.69 A for 3 s: a blade at 1.35 times its rating may open after 0.75 s",
    ),
    # Stage
    _at("stage.capacitor_volts", "carousel", f"{U}bulk_voltage", "18 V", "18.5 V", because="1.25 × 14.6 V = 18.25 V"),
    _at(
        "stage.ripple",
        "carousel",
        f"{U}ripple_allowed",
        "120 mV",
        "127 mV",
        because="0.69 A × 0.12 Ω, and 0.69/4/20 kHz/220 µF",
    ),
    _at(
        "stage.ripple_current",
        "carousel",
        f"{U}bulk_ripple",
        "230 mA",
        "243 mA",
        because="half of 0.69 A; a third comes by the lead",
    ),
    _at("stage.gate_low", "stirrer", f"{STAGE}gate_v", "10.7 V", "10.9 V", because="10 V and 0.8 V of bootstrap diode"),
    Pair(
        "stage.gate_on",
        "stirrer",
        {f"{STAGE}gate_v": "5.9 V"},
        {f"{STAGE}gate_v": "6.1 V"},
        "twice 2 V of threshold, 1.2 V, 0.8 V of bootstrap diode; above it another check asks whether it is fully on",
        vanishes=True,
    ),
    _at("stage.gate_high", "stirrer", f"{STAGE}switch.v_gs", "11.9 V", "12.1 V", because="12 V of gate supply"),
    _at("stage.standoff", "stirrer", f"{STAGE}switch.v_ds", "62 V", "64 V", because="1.5 × 42 V = 63 V"),
    _at(
        "stage.boot_duty",
        "stirrer",
        f"{STAGE}gate_driver.refresh",
        "11.5 µs",
        "10.5 µs",
        because="78 % of 50 µs leave 10.9 µs",
    ),
    _at(
        "stage.dead_time",
        "stirrer",
        f"{STAGE}dead_time",
        "470 ns",
        "482 ns",
        because="the delay and the edge are 339 ns, by 1.3, and 35 ns of mismatch: 476 ns",
    ),
    _at("stage.fuse_volts", "stirrer", f"{STAGE}fuse.rated_v", "41 V", "43 V", because="ten lithium cells full: 42 V"),
    _at(
        "stage.boot",
        "stirrer",
        f"{STAGE}boot_capacitor",
        "650 nF",
        "690 nF",
        because="3 gates and a leak: 334 nC in 0.5 V",
    ),
    _at(
        "stage.driver_high",
        "stirrer",
        f"{STAGE}gate_driver.supply_max",
        "11.9 V",
        "12.1 V",
        because="12 V of gate supply",
    ),
    _at(
        "stage.driver_low",
        "stirrer",
        f"{STAGE}gate_driver.supply_min",
        "12.1 V",
        "11.9 V",
        because="12 V of gate supply",
    ),
    _at("stage.guard_gate", "stirrer", f"{STAGE}guard.v_gs", "11.9 V", "12.1 V", because="clamped at 12 V"),
    _at("stage.guard_volts", "stirrer", f"{STAGE}guard.v_ds", "41 V", "43 V", because="ten lithium cells full: 42 V"),
    _at(
        "stage.ringing",
        "stirrer",
        f"{STAGE}loop",
        "26 nH",
        "23 nH",
        because="33 V over 42 V in L di/dt: 98.7 A of a jam, their fall alone in 74 ns",
    ),
    _at("stage.fuse", "stirrer", f"{STAGE}fuse.rated_a", "9.2 A", "9.8 A", because="7.1 A are 75 % of 9.5 A"),
    _at("stage.driver_bus", "stirrer", f"{STAGE}gate_driver.bus_max", "53 V", "55 V", because="42 V and 12 V on top"),
    _at(
        "stage.miller",
        "stirrer",
        f"{STAGE}switch.threshold",
        "0.8 V",
        "0.85 V",
        because="26.5 Ω × 180 pF × 42 V in 161 ns are 1.24 V, of which 5.6 nF of its own (148 ns) leave 66 %: 0.82 V",
    ),
    _at(
        "stage.miller_upper",
        "21",
        f"{STAGE}upper.threshold",
        "2.04 V",
        "2.1 V",
        because="26.8 Ω × 260 pF × 27.6 V in 25.1 ns are 7.65 V; 2.98 nF (80 ns) leave 27 %: 2.07 V",
    ),
    _at(
        "stage.driver_heat",
        "stirrer",
        f"{STAGE}gate_driver.to_air",
        "530 K/W",
        "480 K/W",
        because="80 K over 0.16 W of gate power",
    ),
    _at(
        "stage.fuse_wire",
        "stirrer",
        f"{U}supply_run.gauge",
        "24",
        "22",
        because="(115 · 0.2)² = 560 A²s, (115 · 0.33)² = 1,410",
    ),
    _at("stage.sense_range", "stirrer", f"{STAGE}shunt", "30 mΩ", "28.8 mΩ", because="8.5 A × 29.4 mΩ × 20 = 5 V"),
    _at("stage.shunt_heat", "stirrer", f"{STAGE}shunt_rating", "98 mW", "104 mW", because="7.1² A² × 2 mΩ = 101 mW"),
    _at("stage.track", "stirrer", f"{STAGE}track_rise", "0.6 K", "0.64 K", because="IPC-2221 at 7 A in 12 mm of 2 oz"),
    _at(
        "stage.capacitor_life",
        "stirrer",
        f"{STAGE}life_wanted",
        "126000 h",
        "122000 h",
        because="2,000 h at 105 °C, 2^(60/10) at 45 °C",
    ),
    _at(
        "stage.linear",
        "04",
        f"{STAGE}switch.linear_a",
        "13 A",
        "14 A",
        because="13.6 A at the start while it switches slowly",
    ),
    _at("stage.upper_gate", "21", f"{STAGE}upper.v_gs", "27 V", "28 V", because="two lead batteries on charge: 27.6 V"),
    _at(
        "stage.contact", "puppets", f"{STAGE}relay.contact_a", "0.31 A", "0.34 A", because="0.324 A at the ramped start"
    ),
    _at(
        "stage.contact_volts", "puppets", f"{STAGE}relay.contact_v", "18.5 V", "18.7 V", because="the adaptor's 18.6 V"
    ),
    _at(
        "stage.pause",
        "puppets",
        f"{STAGE}relay_pause",
        "27 ms",
        "29 ms",
        because="L/R of decay, 10 ms of release, bounce",
    ),
    _at("stage.diode_volts", "puppets", f"{STAGE}diode.reverse_v", "18.5 V", "18.7 V", because="the adaptor's 18.6 V"),
    _at(
        "stage.diode_surge",
        "puppets",
        f"{STAGE}diode.surge_a",
        "3.1 A",
        "3.3 A",
        because="18.6 V over 5.9 Ω are 3.16 A",
    ),
    _at(
        "stage.diode_mean",
        "puppets",
        f"{STAGE}diode.forward_a",
        "42 mA",
        "46 mA",
        because="0.2 A for a fifth of the time",
    ),
    _at("stage.diode_heat", "puppets", f"{STAGE}diode.to_air", "5000 K/W", "4500 K/W", because="115 K over 24 mW"),
    Pair("stage.flyback", "puppets", {}, {f"{U}flyback": "rails"}, "across the motor, beyond the reversing contacts"),
    Pair("stage.tied", "20", {}, {f"{STAGE}gates": "each"}, "three gates on one resistor"),
    Pair(
        "stage.sink_room",
        "03",
        {f"{STAGE}heat_sink.places": "1", f"{STAGE}parallel": "2"},
        {},
        "two on a place for one",
    ),
    # Signals and panel
    _at(
        "signals.ripple",
        "carousel",
        f"{D}signals.pwm_frequency",
        "8 kHz",
        "8.7 kHz",
        because="0.87 % at 20 kHz goes with 1/f²: 5 %",
    ),
    _at(
        "signals.ramp",
        "carousel",
        f"{D}signals.ramp_time",
        "360 ms",
        "400 ms",
        because="J ω over K_e (5 A less the load)",
    ),
    Pair(
        "signals.frequency",
        "carousel",
        {f"{D}signals.pwm_frequency": "9 MHz"},
        {},
        "a 16 MHz clock divides by whole counts",
    ),
    Pair(
        "signals.audible", "carousel", {f"{D}signals.pwm_frequency": "15 kHz"}, {}, "young ears hear 15 kHz, nobody 20"
    ),
    Pair(
        "signals.window",
        "carousel",
        {f"{D}motor.inductance": "1 µH"},
        {},
        "a hundredth of the inductance: no frequency",
    ),
    _at("panel.pause", "puppets", f"{D}panel.pause", "58 ms", "62 ms", because="the relays need 60 ms to change over"),
    # Wiring
    _at(
        "wiring.short", "carousel", f"{U}supply_run.gauge", "23", "20", because="I²t through the blade against (115 S)²"
    ),
    _at(
        "wiring.fuse_for_wire",
        "carousel",
        f"{S}fuse",
        "16 A",
        "15 A",
        because="18.7 · 0.823^0.6 · √(35/40) = 15.6 A in AWG 18",
    ),
    _at(
        "wiring.motor_density",
        "carousel",
        f"{D}wiring.motor_run.gauge",
        "29",
        "27",
        because="0.487 A over 0.081 mm² are 6 A/mm²",
    ),
    _at(
        "wiring.supply_density",
        "carousel",
        f"{U}supply_run.gauge",
        "29",
        "27",
        because="0.487 A over 0.081 mm² are 6 A/mm²",
    ),
    _at(
        "wiring.motor_drop",
        "carousel",
        f"{D}wiring.motor_run.length",
        "10.3 m",
        "9.7 m",
        because="0.487 A × 2 × 33 mΩ/m × 10 m = 3 %",
    ),
    _at(
        "wiring.supply_drop",
        "carousel",
        f"{U}supply_run.length",
        "16.4 m",
        "15.4 m",
        because="0.487 A × 2 × 21 mΩ/m × 16 m = 3 %",
    ),
    Pair(
        "wiring.ground", "carousel", {f"{D}wiring.left_out": "ground"}, {}, "the controller's ground hangs in the air"
    ),
    Pair("wiring.made", "carousel", {f"{D}wiring.left_out": "signal:DIR"}, {}, "a wire is missing"),
    *(
        _at(
            f"wiring.{code}_heat",
            "carousel",
            f"{path}.gauge",
            "39",
            "38",
            because="AWG 39, 0.0063 mm²: 0.8 × 18.7 A × 0.0063^0.6 × √(35/40) = 0.67 A, AWG 38 0.77; it is 0.69",
        )
        for code, path in (("supply", f"{U}supply_run"), ("motor", f"{D}wiring.motor_run"))
    ),
    *(
        _at(
            f"wiring.{code}_contact",
            "carousel",
            f"{path}.contact_a",
            "0.47 A",
            "0.5 A",
            because="0.487 A warm it: the contact bears 0.47 A",
            **{f"{path}.ends": "plug"},
        )
        for code, path in (("supply", f"{U}supply_run"), ("motor", f"{D}wiring.motor_run"))
    ),
    *(
        _at(
            f"wiring.{code}_keyed",
            build,
            f"{path}.keyed",
            "no",
            "yes",
            because="plus and minus change places when it is turned round",
            **{f"{path}.ends": "plug", f"{path}.contact_a": "3 A"},
        )
        for code, build, path in (
            ("supply", "carousel", f"{U}supply_run"),
            ("motor", "carousel", f"{D}wiring.motor_run"),
            ("servo", "10", f"{D}wiring.signal_run"),
        )
    ),
    _at(
        "wiring.servo_contact",
        "10",
        f"{D}wiring.signal_run.contact_a",
        "0.8 A",
        "1 A",
        because="stalled it draws 0.9 A",
        **{f"{D}wiring.signal_run.ends": "plug"},
    ),
    _at(
        "wiring.encoder_leads",
        "carousel",
        f"{D}wiring.laid",
        "beside",
        "twisted",
        because="0.4 m beside the motor's leads, whose pulses are counted",
    ),
    Pair(
        "wiring.return",
        "carousel",
        {f"{D}wiring.left_out": "ground"},
        {},
        "the controller's ground hangs in the air: PWM and DIR have no way back",
    ),
    Pair("wiring.pins", "carousel", {"controllers.c1.pins": ""}, {}, "a controller without pins"),
    _at(
        "wiring.servo_drop",
        "10",
        f"{D}wiring.signal_run.length",
        "2.6 m",
        "2.4 m",
        because="0.9 A × 2 × 33 mΩ/m × 2.5 m = 3 % of 5.5 V",
    ),
    _at(
        "wiring.servo_density",
        "10",
        f"{D}wiring.signal_run.gauge",
        "26",
        "24",
        because="0.9 A over 0.15 mm² are 6 A/mm²",
    ),
    # Encoder and loop
    _at(
        "encoder.rate",
        "carousel",
        f"{D}encoder.interrupt_time",
        "56 µs",
        "52 µs",
        because="a quarter of the time over 4,640 a second",
    ),
    _at(
        "encoder.calibration",
        "carousel",
        f"{D}encoder.calibrated",
        "7000",
        "7100",
        because="7,200 by its teeth and gear, to 2 %",
        drives__d1__encoder__runs="",
    ),
    _at(
        "encoder.runs",
        "carousel",
        f"{D}encoder.runs.r2.counts",
        "35800",
        "35900",
        because="five turns of 7,197 are 35,985; a hand that stops 2° off at both ends is 80 counts off, and one more",
    ),
    _at(
        "encoder.phase",
        "puppets",
        f"{D}encoder.spacing",
        "12.2 mm",
        "12.3 mm",
        because="a pitch of 10.47 mm: 59.4°, 63°",
    ),
    _at("encoder.states", "puppets", f"{D}encoder.tooth", "1.6 mm", "3 mm", because="1.73 mm past a whole pitch"),
    _at("encoder.aperture", "puppets", f"{D}encoder.aperture", "5.3 mm", "5.1 mm", because="a tooth of 5.2 mm"),
    _at(
        "encoder.lit", "puppets", f"{D}encoder.lit_a", "0.34 mA", "0.36 mA", because="5 V less 10 kΩ × 0.35 mA is 1.5 V"
    ),
    _at(
        "encoder.dark",
        "puppets",
        f"{D}encoder.stray_a",
        "140 µA",
        "134 µA",
        because="1.5 V over 10 kΩ are 150 µA, less 1 µA in the dark and 12 µA through the tooth",
    ),
    _at(
        "encoder.rise",
        "puppets",
        f"{D}encoder.line_capacitance",
        "2.1 nF",
        "1.8 nF",
        because="2.2 × 10 kΩ × C within a quarter of 172 µs, the shortest state as cut at the top speed",
    ),
    _at("encoder.state", "puppets", f"{D}encoder.interrupt_time", "180 µs", "160 µs", because="that state"),
    _at(
        "loop.current",
        "carousel",
        f"{PART}peak_a",
        "7.3 A",
        "7.6 A",
        because="full duty first: 14.6 V over 1.96 Ω, cold",
    ),
    _at("loop.settling", "carousel", f"{D}loop.settling_allowed", "170 ms", "200 ms", because="nine periods of 20 ms"),
    _at("loop.overshoot", "carousel", f"{D}loop.gain", "0.27 %/rpm", "0.24 %/rpm", because="five times the gain"),
    _at(
        "loop.gain_margin",
        "carousel",
        f"{D}loop.gain",
        "0.22 %/rpm",
        "0.2 %/rpm",
        because="at 0.05 %/rpm the gain may grow 8.37 times: twice is left at 0.209",
    ),
    _at("loop.phase_margin", "carousel", f"{D}loop.gain", "0.27 %/rpm", "0.24 %/rpm", because="30° are left at 0.255"),
    # Servos
    _at("servo.volts_high", "puppets", "drives.d2.servo.high_v", "5.4 V", "5.6 V", because="a rail of 5.5 V"),
    _at("servo.volts_low", "puppets", "drives.d2.servo.low_v", "5.6 V", "5.4 V", because="a rail of 5.5 V"),
    _at(
        "servo.torque",
        "puppets",
        "drives.d2.servo.force",
        "9.7 N",
        "9.2 N",
        because="half of 0.378 N·m over a 20 mm arm",
    ),
    Pair(
        "driver.told",
        "carousel",
        {"drives.d1.signals.told_by": "hand"},
        {"drives.d1.signals.told_by": "level"},
        "a board with inputs is moved by no hand; a controller may switch it on and off",
    ),
    Pair(
        "supply.*.feed",
        "carousel",
        {"controllers.c1.vin_max": "14 V"},
        {"controllers.c1.vin_max": "15 V"},
        f"{FULL}, at the V in of the controller's own regulator",
    ),
    Pair(
        "servo.travel",
        "puppets",
        {"drives.d2.servo.sweep": "100 °"},
        {"drives.d2.servo.sweep": "85 °"},
        "it travels 90°",
    ),
    Pair(
        "servo.pulse_low", "puppets", {"drives.d2.servo.pulse_low": "0.3 ms"}, {}, "no servo takes 0.3 ms for a pulse"
    ),
    Pair(
        "servo.pulses",
        "puppets",
        {"drives.d2.servo.pulse_low": "2 ms", "drives.d2.servo.pulse_high": "1 ms"},
        {},
        "the ends are crossed / as they are",
    ),
    Pair("servo.pulse_high", "puppets", {"drives.d2.servo.pulse_high": "3 ms"}, {}, "no servo takes 3 ms for a pulse"),
    Pair("servo.timer", "09", {}, {}, "two compare outputs for four servos / for two", neighbour="puppets"),
)
