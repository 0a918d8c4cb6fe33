"""The compiled program drives the simulated motor: its pins in, the encoder's edges out, against what Signals
predicts."""

from __future__ import annotations

import math
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from zinc_whistle.core.assess import MotorAssessment, assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.panel.runtime import Panel
from zinc_whistle.core.program.micropython_source import micropython_source
from zinc_whistle.core.program.moving import program_for_moves, tuned_by_port
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import DriveProgram
from zinc_whistle.core.program.protocol import framed
from zinc_whistle.core.simulation.engine import Engine, Phase
from zinc_whistle.core.simulation.moves.run import follow
from zinc_whistle.core.simulation.plant import OMEGA, THETA, I
from zinc_whistle.core.simulation.scenario import drive_of, plant_of, simulate
from zinc_whistle.core.stations.loop.moves import programmed, shaft_of
from zinc_whistle.core.stations.loop.traces import trace_of

from .kit import MS, Avr, Interpreter, compiled
from .test_c import styled
from .test_protocol import serial_build

RING = ((0, 0), (1, 0), (1, 1), (0, 1))


def light_carousel(closed: str) -> Build:
    """A drive that gets to speed within a second, both ways, commanded by the port."""
    build = styled("pwm and direction", ramp_time="0.25 s", decay="slow", reversal="through zero", braking="brake")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    mechanism = drive.load.mechanisms[0]
    mechanism.mass.text = "0.15 kg"
    drive.load.time_to_speed.text = "0.25 s"
    drive.panel.command, drive.panel.stop_input, drive.panel.watch = "serial", "none", "yes"
    drive.panel.watch_time.text, drive.panel.pause.text = "300 ms", "60 ms"
    drive.loop.closed = closed  # type: ignore[assignment]
    return build


class Rig:
    """The program in the instruction simulator and the motor beside it, a millisecond at a time."""

    def __init__(self, build: Build, folder: Path) -> None:
        self.done = assess(build)
        drive = self.done.drives["d1"]
        assert isinstance(drive, MotorAssessment)
        self.drive = drive
        plan = plan_program(self.done, "c1")
        self.program: DriveProgram = plan.drives[0]
        self.pwm, self.way = self.program.pins["PWM"].port, self.program.pins["DIR"].port
        self.avr = Avr(compiled(plan, folder), self.pwm, self.way)
        plant, _ = plant_of(drive.context, drive.circuit)
        self.engine = Engine(plant)
        self.x = self.engine.rest()
        self.per_turn = drive.encoder.counts_per_motor_turn.value
        assert self.per_turn is not None
        self.place = 0
        self.time: list[float] = []
        self.speed: list[float] = []
        self.current: list[float] = []
        self.duty: list[float] = []
        self._next: list[tuple[int, str, int]] = []

    def millisecond(self) -> None:
        """Pins for a millisecond, the motor for the same, its encoder's edges for the next."""
        before = dict(self.avr.levels)
        edges = self.avr.run(1, self._next)
        duty = _share(edges, self.pwm, before.get(self.pwm, 0), self.avr.cycle)
        on = "forward" if self.avr.levels.get(self.way, 0) else "back"
        path = on if duty > 0 else "short"
        run = self.engine.run([Phase(1, 1e-3, duty or 1.0, path, "short", averaged=True)], self.x)  # type: ignore[arg-type]
        start, self.x = self.x, run.last[1]
        self._next = self._edges(float(start[THETA]), float(self.x[THETA]))
        self.time.append(len(self.time) * 1e-3)
        self.speed.append(float(self.x[OMEGA]))
        self.current.append(float(max(run.arrays()[1][:, I], key=abs)))
        self.duty.append(duty if on == "forward" else -duty)

    def _edges(self, start: float, end: float) -> list[tuple[int, str, int]]:
        counting = self.program.counting
        assert counting is not None and self.per_turn is not None
        pitch = 2 * math.pi / self.per_turn
        goal = math.floor(end / pitch)
        found = []
        while self.place != goal:
            step = 1 if goal > self.place else -1
            edge = (self.place + (1 if step > 0 else 0)) * pitch
            share = (edge - start) / (end - start) if end != start else 0.0
            self.place += step
            a, b = RING[self.place % 4]
            cycle = round(min(max(share, 0.0), 0.999) * MS)
            found += [(cycle, counting.a.port, a), (cycle, counting.b.port, b)]
        return found

    def run(self, ms: int, keep_alive: bool = True) -> None:
        """Run on; the port is kept alive by itself."""
        for k in range(ms):
            if keep_alive and k % 100 == 50:
                self.avr.ask(send=framed("hello") + "\n")
            self.millisecond()

    def tell(self, text: str) -> None:
        """A command; the answer comes while it runs."""
        self.avr.ask(send=framed(text) + "\n")


def _share(edges: list[tuple[int, str, int]], pin: str, level: int, end: int) -> float:
    at, high = end - MS, 0
    for cycle, name, value in edges:
        if name == pin:
            high += (cycle - at) if level else 0
            at, level = cycle, value
    return min(max((high + ((end - at) if level else 0)) / MS, 0.0), 1.0)


def _reached(time: np.ndarray, speed: np.ndarray, goal: float) -> float:
    return float(time[np.argmax(np.abs(speed) >= 0.9 * abs(goal))])


def test_it_starts_ramps_reverses_and_stops_as_signals_predicts(tmp_path: Path) -> None:
    rig = Rig(light_carousel("no"), tmp_path)
    predicted = simulate(rig.drive.context, rig.drive.circuit, "start", averaged=True)
    duty = drive_of(rig.drive.context, rig.drive.circuit, True).duty
    with rig.avr:
        rig.run(40)
        begin = len(rig.time)
        rig.tell(f"duty 1 {round(1000 * duty)}")
        rig.run(700)
        time, speed, current = (np.array(x[begin:]) for x in (rig.time, rig.speed, rig.current))
        time = time - time[0]
        final = predicted.measured.last_speed
        assert speed[-1] == pytest.approx(final, rel=0.03)
        # The port takes some ms to take the command in, and the program looks once a millisecond.
        assert _reached(time, speed, final) == pytest.approx(
            _reached(np.asarray(predicted.time_s), np.asarray(predicted.speed), final), abs=0.03
        )
        assert np.max(current) == pytest.approx(predicted.measured.peak_a, rel=0.12)
        assert max(rig.duty) == pytest.approx(duty, abs=0.01)

        rig.tell(f"duty 1 {-round(1000 * duty)}")
        turn = len(rig.time)
        rig.run(1100)
        duties = np.array(rig.duty[turn:])
        assert rig.speed[-1] == pytest.approx(-final, rel=0.03)
        stall = rig.drive.circuit.stall_full.value
        assert stall is not None
        assert np.abs(rig.current[turn:]).max() < 0.75 * stall, (
            "through zero it never sees the current of a slammed reversal"
        )
        still = np.flatnonzero(duties == 0)
        assert len(still) >= 60, "it rests before it turns round"
        assert (duties[: still[0]] >= 0).all() and (duties[still[-1] + 1 :] <= 0).all()
        steps = np.abs(np.diff(duties))
        assert steps[np.isfinite(steps)].max() < 0.05, "the duty never jumps"

        rig.tell("stop")
        rig.run(500, keep_alive=False)
        assert abs(rig.speed[-1]) < 1.0
        assert rig.duty[-1] == 0


def test_a_jammed_shaft_is_noticed_and_the_program_stops(tmp_path: Path) -> None:
    rig = Rig(light_carousel("no"), tmp_path)
    with rig.avr:
        rig.run(40)
        rig.tell("duty 1 600")
        rig.run(500)
        assert rig.duty[-1] > 0.5
        rig.engine = Engine(replace(rig.engine.plant, stiction_nm=1e6))
        rig.x[OMEGA] = 0.0
        rig.run(280)
        assert rig.duty[-1] > 0.5, "not before the time that was set"
        rig.run(80)
        assert rig.duty[-1] == 0
        rig.avr.lines()
        rig.tell("status 1")
        rig.run(30, keep_alive=False)
        assert "failed" in rig.avr.lines()[-1]


def test_a_closed_loop_holds_its_speed_under_load_where_an_open_one_sags(tmp_path: Path) -> None:
    ends = {}
    for closed in ("yes", "no"):
        rig = Rig(light_carousel(closed), tmp_path)
        loop = rig.program.settings.loop
        assert loop is not None and loop.closed == (closed == "yes")
        with rig.avr:
            rig.run(40)
            rig.tell("speed 1 2500")
            rig.run(500)
            plant = rig.engine.plant
            rig.engine = Engine(replace(plant, coulomb_nm=3 * plant.coulomb_nm, stiction_nm=3 * plant.stiction_nm))
            rig.run(350)
        ends[closed] = float(np.mean(rig.speed[-60:])) * 30 / math.pi
    # A proportional loop leaves the open-loop error divided by one plus its gain (any text on feedback).
    context = rig.drive.context
    gain = context.drive.loop.gain.value
    volts, constant = context.volts.nominal.value, context.motor.motor_constant.value
    assert gain and volts and constant
    left = (ends["no"] - 2500) / (1 + gain * volts / constant)
    assert ends["yes"] - 2500 == pytest.approx(left, rel=0.15)
    assert abs(ends["yes"] - 2500) < 0.4 * abs(ends["no"] - 2500)


def test_an_integral_takes_away_what_a_proportional_loop_leaves(tmp_path: Path) -> None:
    """Three times the friction that was fed forward: with an integral time of 120 ms the speed comes back to what was
    asked, within what whole numbers leave; it does not wind up while the duty is at its end."""
    build = light_carousel("yes")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.loop.integral.text = "120 ms"
    rig = Rig(build, tmp_path)
    loop = rig.program.settings.loop
    assert loop is not None and loop.integral_fine == pytest.approx(loop.gain_fine * loop.period_ms / 120, abs=0.6)
    with rig.avr:
        rig.run(40)
        rig.tell("speed 1 2500")
        rig.run(500)
        plant = rig.engine.plant
        rig.engine = Engine(replace(plant, coulomb_nm=3 * plant.coulomb_nm, stiction_nm=3 * plant.stiction_nm))
        rig.run(2600)
        # One count in a period is 62 rpm: it hunts round the target, and comes there in the mean.
        assert float(np.mean(rig.speed[-1500:])) * 30 / math.pi == pytest.approx(2500, rel=0.012)
        # More than the supply can give for a second: what was wound up would hold it too quick afterwards.
        weak = replace(plant, coulomb_nm=40 * plant.coulomb_nm, stiction_nm=40 * plant.stiction_nm)
        rig.engine = Engine(weak)
        rig.run(600)
        rig.engine = Engine(plant)
        rig.run(500)
        assert max(rig.speed[-400:]) * 30 / math.pi < 2500 * 1.25


def test_the_integral_is_the_same_in_the_model_and_the_interpreter() -> None:
    """The same counts, round for round: the same level."""
    build = serial_build("thirty-two-bit-radio")
    motor = build.drives[0]
    assert isinstance(motor, MotorDrive)
    motor.panel.command, motor.panel.stop_input, motor.panel.watch = "serial", "none", "no"
    motor.signals.soft_start, motor.loop.closed, motor.loop.integral.text = "no", "yes", "90 ms"
    plan = plan_program(assess(build), "c1")
    own = plan.drives[0]
    assert own.settings.loop is not None and own.settings.loop.integral_fine > 0
    panel = Panel(own.machine, own.lines, own.settings)
    panel.wanted, count = own.settings.full // 2, 0
    counts, wanted = [0], list[int]()
    for k in range(160):
        count += (0, 3, 9, 14, 10, 2)[k // 27]
        counts.append(count)
    for c in counts:
        wanted.append(panel.tick({}, {"forward": wanted != []}, c).level)
    with Interpreter(micropython_source(plan), plan.tick_ms) as one:
        one.start()
        one.ask(run=f"d = program.drives[1]\nd.wanted = {own.settings.full // 2}\nseen = []".replace("\\\n", "\n"))
        one.ask(
            run="\n".join(
                [
                    f"for k, c in enumerate({counts}):",
                    "    d.encoder.count = c",
                    "    d.way = 1 if k else 0",
                    "    program.Wire.silent = 0",
                    "    program.tick()",
                    "    seen.append(d.level)",
                ]
            )
        )
        assert one.seen("seen") == wanted
    assert len(set(wanted)) > 8 and max(wanted) == own.settings.full


@pytest.mark.parametrize("approach", ["creep", "slowing"])
def test_a_move_of_the_compiled_program_goes_as_the_moves_of_the_loop_station_do(approach: str, tmp_path: Path) -> None:
    """The motor's own simulation turns the encoder's pins of the compiled program; the move by the program's panel on
    the averaged shaft comes to the same course."""
    build = light_carousel("yes")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.signals.reversal, drive.panel.moves = "through zero", "relative"
    drive.panel.end_front.text, drive.panel.end_back.text = "30000", "-30000"
    drive.panel.approach, drive.panel.slow_within.text = approach, "40 °"  # type: ignore[assignment]
    rig = Rig(build, tmp_path)
    done = assess(build).drives[drive.id]
    assert isinstance(done, MotorAssessment)
    own = program_for_moves(done)
    assert own is not None and own.tick_s == 1e-3
    panel = own.panel
    assert panel.settings.approach is not None
    counts, goal = [], 700
    with rig.avr:
        rig.run(40)
        rig.tell(f"move 1 {goal}")
        for k in range(1200):
            rig.run(1, keep_alive=k % 100 == 50)
            if k % 100 == 50:
                rig.tell("hello")
            counts.append(float(rig.x[THETA]) / (2 * math.pi) * (rig.per_turn or 0.0))
    shaft = shaft_of(done.context, done.circuit, done.encoder)
    plant = rig.engine.plant
    motor = replace(shaft.motor, resistance_ohm=plant.resistance_ohm, load_nm=plant.load_nm)
    shaft = replace(shaft, coulomb_nm=plant.coulomb_nm, stiction_nm=plant.stiction_nm, motor=motor)
    ours = follow(shaft, programmed(panel, goal), 1e-3, goal, 1.2, 2)
    off = np.abs(np.array(counts) - ours.place[1:1201])
    assert off.max() < 0.06 * goal, (off.argmax(), off.max())
    assert abs(counts[-1] - ours.place[1200]) < 0.02 * goal


def test_the_boards_own_reports_tell_the_drive_that_it_turns(tmp_path: Path) -> None:
    """Duty by the port, `report 10`, and the lines as they come: gain and lag are those of the motor that was
    simulated, K from the volts and R J/K² from its constants."""
    rig = Rig(light_carousel("no"), tmp_path)
    with rig.avr:
        rig.run(40)
        rig.tell("report 10")
        for duty in (300, 600, 350):
            rig.tell(f"duty 1 {duty}")
            rig.run(1100)
        text = "\n".join(rig.avr.lines())
    drive, plant = rig.drive, rig.engine.plant
    found = trace_of(text, drive.context, drive.circuit, drive.encoder, 1)
    assert found.trace.source == "reports of the board" and found.fitted.told > 0.99
    assert found.fitted.plant.gain == pytest.approx(plant.source_v / plant.constant, rel=0.05)
    lag = plant.resistance_ohm * plant.inertia / plant.constant**2
    # Its ramp is part of the duty that is reported; the source's ohms at these duties are part of the lag.
    assert found.fitted.plant.lag_s == pytest.approx(lag, rel=0.2)
    assert found.foretold is not None
    # The design counts its winding hot, the simulated one is cold; and a count in a period is 6.5 rad/s.
    assert np.sqrt(np.mean((found.foretold - found.trace.speed) ** 2)) < 0.1 * found.trace.speed.max()
    assert "That is the drive of the design: its gains hold." in found.says


@pytest.mark.parametrize("controller", ["eight-bit-16", "thirty-two-bit-radio"])
def test_what_is_typed_to_tune_is_what_the_program_holds_of_that_gain(controller: str) -> None:
    """Of the very gain of the design, in either language: its rounds are 1 and 5 ms, its full step 799 or 65,535."""
    build = serial_build(controller)
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.panel.command, drive.panel.stop_input, drive.panel.watch = "serial", "none", "no"
    drive.loop.closed, drive.loop.integral.text = "yes", "90 ms"
    done = assess(build)
    loop = plan_program(done, "c1").drives[0].settings.loop
    motor = done.drives[drive.id]
    assert loop is not None and isinstance(motor, MotorAssessment) and drive.loop.gain.value is not None
    typed = tuned_by_port(motor, 1, motor.drive.loop.gain.value or 0.0, 0.09)
    words = typed.split(" ")
    assert words[:2] == ["tune", "1"] and int(words[2]) == loop.gain_fine
    assert int(words[3]) == pytest.approx(loop.integral_fine, abs=max(1, 0.02 * loop.integral_fine))
