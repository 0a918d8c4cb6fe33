"""The C program: compiles without a warning in every combination that matters, and does on its pins what was
planned."""

from __future__ import annotations

import itertools
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from zinc_whistle.core.assess import assess
from zinc_whistle.core.model.build import Build, MotorDrive
from zinc_whistle.core.program.board import Board
from zinc_whistle.core.program.c_drive import guard
from zinc_whistle.core.program.c_source import c_source
from zinc_whistle.core.program.plan import plan_program
from zinc_whistle.core.program.planned import NotYet, ProgramPlan
from zinc_whistle.core.program.protocol import unframed
from zinc_whistle.demo.data import cider_stirrer, lantern_carousel, profile, puppet_stage

from .kit import CLOCK, MS, Avr, compiled, duty_of, overlap, planned

STYLES = [
    "two inputs",
    "pwm and direction",
    "pwm, direction, brake",
    "two inputs and enable",
    "coil and pwm",
    "one input",
    "two gates",
]
FULL = {"limits": "both", "stop_input": "closed", "fault_input": "low", "watch": "yes", "offset": "yes"}


def styled(style: str, **signals: str) -> Build:
    """The carousel's drive with another input style."""
    build = lantern_carousel()
    part, drive = build.units[0].part, build.drives[0]
    assert part is not None and isinstance(drive, MotorDrive)
    part.input_style = style  # type: ignore[assignment]
    part.reverses = part.brakes = "yes"
    drive.signals.reversal = "one way" if style in ("one input", "two gates") else "through zero"
    drive.wiring.fixed_pins = []
    for name, value in signals.items():
        spot = getattr(drive.signals, name)
        if hasattr(spot, "text"):
            spot.text = value
        else:
            setattr(drive.signals, name, value)
    return build


def test_the_compiler_is_there() -> None:
    assert shutil.which("avr-gcc"), "install gcc-avr and avr-libc"


@pytest.mark.parametrize("command", ["hold", "touch", "serial"])
@pytest.mark.parametrize("style", STYLES)
def test_every_style_and_command_compiles_plain_and_full(style: str, command: str, tmp_path: Path) -> None:
    both_ways = style not in ("one input", "two gates")
    for extra in ({}, FULL | ({"homing": "back", "moves": "yes"} if both_ways else {})):
        compiled(planned(styled(style), command=command, **extra), tmp_path, "-c")


@pytest.mark.parametrize(
    ("style", "signals", "panel"),
    [
        ("pwm and direction", {"decay": "locked anti-phase"}, {}),
        ("pwm, direction, brake", {"decay": "locked anti-phase", "braking": "brake"}, {"command": "serial"}),
        ("two inputs", {"decay": "fast", "alignment": "edge"}, {"speed_by": "knob"}),
        ("two inputs", {"reversal": "slammed", "soft_start": "no"}, {"both": "first", "start_up": "at once"}),
        ("one input", {"pwm_frequency": "490 Hz", "alignment": "edge"}, {"speed_by": "knob", "pressed": "high"}),
        ("two inputs", {}, {"limits": "both", "limit_stops": "all", "stop_input": "open", "stop_latched": "no"}),
        ("two gates", {"braking": "brake"}, {"speed_by": "knob", "fault_input": "high"}),
    ],
)
def test_further_combinations_compile(
    style: str, signals: dict[str, str], panel: dict[str, str], tmp_path: Path
) -> None:
    compiled(planned(styled(style, **signals), **panel), tmp_path, "-c")


def test_only_servos_compile_and_give_pulses(tmp_path: Path) -> None:
    build = puppet_stage()
    build.drives, build.sequences = build.drives[1:], []
    plan = plan_program(assess(build), "c1")
    assert not plan.drives and len(plan.servos) == 2
    with Avr(compiled(plan, tmp_path), "B1", "B2") as avr:
        avr.run(30)
        assert avr.edges == [], "no pulses until it is told a place"
        assert avr.tell("duty 1 500") == ["ok duty"]
        assert avr.tell("duty 1 1001") == ["no range"]
        assert avr.tell("status 1") == ["ok status 1 on 500 0 0 0"]
        avr.tell("hello")
        edges = avr.run(90)
        frequency, duty = duty_of(edges, "B1")
        assert frequency == pytest.approx(50, rel=1e-3)
        assert duty / frequency == pytest.approx(1.5e-3, abs=2e-6)
        avr.run(600)
        assert avr.run(60) == [], "silence takes the pulses away"


def test_dead_time_duty_and_frequency_of_two_gates_are_as_planned(tmp_path: Path) -> None:
    build = cider_stirrer()
    build.units[0].stage.dead_time.text = "2 µs"
    plan = planned(build, command="hold", speed_by="fixed", stop_input="closed")
    drive = plan.drives[0]
    assert drive.dead_steps == 32
    upper, lower = drive.pins["HIGH"].port, drive.pins["LOW"].port
    with Avr(compiled(plan, tmp_path), upper, lower) as avr:
        # Before the setup nothing drives the pins; the gates' own pull-downs hold them.
        avr.contacts(**{c.pin.port: 0 if c.input == "stop" else 1 for c in drive.contacts})
        avr.run(40)
        assert avr.levels == {upper: 0, lower: 1}, "at rest it brakes: the lower gate is on"
        start = dict(avr.levels)
        avr.edges.clear()
        avr.contacts(**{next(c.pin.port for c in drive.contacts if c.input == "forward"): 0})
        avr.run(120)
        both, shortest = overlap(avr.edges, upper, lower, start)
        assert both == 0
        # Edges are seen at the end of the instruction in which they fall: up to four cycles late.
        assert shortest >= 32 - 4
        avr.run(380)
        edges = avr.run(10)
        frequency, duty = duty_of(edges, upper)
        level = int(avr.status()[1]) * 400 // 1000
        assert frequency == pytest.approx(20e3, rel=1e-3)
        assert duty == pytest.approx(level / 400, abs=0.012)
        assert duty_of(edges, lower)[1] == pytest.approx(1 - (level + 2 * 32 / 2) / 400, abs=0.012)
        gaps = _gaps(edges, upper, lower)
        assert sum(gaps) / len(gaps) == pytest.approx(32, abs=1)
        before = dict(avr.levels)
        avr.edges.clear()
        avr.contacts(**{next(c.pin.port for c in drive.contacts if c.input == "stop"): 1})
        avr.run(40)
        assert avr.levels == {upper: 0, lower: 1}
        assert overlap(avr.edges, upper, lower, before)[0] == 0
        assert overlap(avr.edges, upper, lower, before)[1] >= 32 - 4


def _gaps(edges: list[tuple[int, str, int]], a: str, b: str) -> list[int]:
    """From one gate's fall to the other's rise."""
    found = []
    own = [e for e in edges if e[1] in (a, b)]
    for (c, pin, v), (c2, pin2, v2) in itertools.pairwise(own):
        if not v and v2 and pin != pin2:
            found.append(c2 - c)
    return found


@pytest.mark.parametrize("alignment", ["centre", "edge"])
def test_frequency_and_duty_agree_with_the_plan_whichever_way_it_counts(alignment: str, tmp_path: Path) -> None:
    plan = planned(styled("pwm and direction", alignment=alignment, soft_start="no"), command="serial")
    drive = plan.drives[0]
    pwm = drive.pins["PWM"].port
    with Avr(compiled(plan, tmp_path), pwm, drive.pins["DIR"].port) as avr:
        avr.run(30)
        top, cycles = drive.timing.top, 2 if alignment == "centre" else 1
        for share in (250, 750):
            avr.tell(f"duty 1 {share}", 60)
            frequency, duty = duty_of(avr.run(5), pwm)
            assert frequency == pytest.approx(drive.timing.frequency_hz, rel=1e-3)
            level = share * top // 1000
            expected = level / top if cycles == 2 else (level + 1) / (top + 1)
            assert duty == pytest.approx(expected, abs=0.006)
        avr.tell("duty 1 1000", 60)
        assert avr.run(5) == []
        assert avr.levels[pwm] == 1, "full is full: no edge is left"
        avr.tell("duty 1 0", 100)
        assert avr.run(5) == []
        assert avr.levels[pwm] == 0, "nothing is nothing: the pin is off, not one step high"


def test_a_ramp_takes_its_time_on_the_pin(tmp_path: Path) -> None:
    plan = planned(styled("pwm and direction", ramp_time="0.15 s"), command="serial")
    drive = plan.drives[0]
    pwm = drive.pins["PWM"].port
    with Avr(compiled(plan, tmp_path), pwm) as avr:
        avr.run(30)
        full = drive.settings.full
        avr.tell("duty 1 1000", 0.1)
        begin = avr.cycle
        duties = []
        for _ in range(40):
            high = _high_share(avr.run(10), pwm, avr.levels[pwm], 10 * MS, avr.cycle)
            duties.append(high)
            if high > 0.99:
                break
        took = (avr.cycle - begin) / CLOCK
        planned_s = full * 16384 / drive.settings.ramp_step / 1e3
        assert took == pytest.approx(planned_s, abs=0.02)
        steps = [b - a for a, b in itertools.pairwise(duties)]
        assert max(steps) < 2.2 * 10 / (planned_s * 1e3) and min(steps) > -0.01, "it rises evenly"


def _high_share(edges: list[tuple[int, str, int]], pin: str, level: int, cycles: int, end: int) -> float:
    """The share of an interval in which a pin was high."""
    at, high = end, 0
    for cycle, name, value in reversed(edges):
        if name == pin:
            high += (at - cycle) if value else 0
            at, level = cycle, 1 - value
    return (high + (at - (end - cycles) if level else 0)) / cycles


def quick_winch() -> Build:
    """The winch with a short ramp."""
    build = puppet_stage()
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.signals.ramp_time.text = "0.1 s"
    return build


def test_relays_and_pulses_keep_their_distance_on_the_pins(tmp_path: Path) -> None:
    plan = planned(quick_winch(), pause="130 ms", debounce="5 ms")
    drive = plan.drives[0]
    coils, pwm = [drive.pins[f"COIL {k}"].port for k in (1, 2)], drive.pins["PWM"].port
    contacts = {c.input: c.pin.port for c in drive.contacts}
    at_rest = {"stop": 0, "limit_front": 0, "limit_back": 0}
    with Avr(compiled(plan, tmp_path), *coils, pwm) as avr:
        avr.contacts(**{p: at_rest.get(n, 1) for n, p in contacts.items()})
        avr.run(20)
        for way in ("forward", "back"):
            avr.contacts(**{contacts[way]: 0})
            avr.run(450)
            avr.contacts(**{contacts[way]: 1})
            avr.run(30)
        avr.contacts(**{contacts["stop"]: 1})
        avr.run(200)
        pulses = [c for c, p, _ in avr.edges if p == pwm]
        moves = [c for c, p, _ in avr.edges if p in coils]
        assert len(pulses) > 20 and len(moves) >= 4
        wait = drive.settings.coil_ms * MS
        for move in moves:
            near = [c for c in pulses if abs(c - move) < wait * 0.98]
            assert not near, f"pulses {(near[0] - move) / MS:.1f} ms from a change-over"
        level = dict.fromkeys(coils, 0)
        for _, pin, value in avr.edges:
            if pin in coils:
                level[pin] = value
                assert sum(level.values()) < 2


@pytest.fixture(scope="module")
def watched(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Avr, ProgramPlan]]:
    """A carousel that watches its counts, with encoder and fault."""
    plan = planned(
        styled("pwm and direction", ramp_time="0.1 s"),
        command="serial",
        watch="yes",
        watch_time="120 ms",
        fault_input="low",
    )
    with Avr(compiled(plan, tmp_path_factory.mktemp("watched")), plan.drives[0].pins["PWM"].port) as avr:
        avr.contacts(**{plan.drives[0].pins["FAULT"].port: 1, plan.drives[0].pins["STOP"].port: 0})
        avr.run(40)
        yield avr, plan


def _turning(plan: ProgramPlan, ms: float, period_ms: float, forward: bool = True) -> list[tuple[int, str, int]]:
    counting = plan.drives[0].counting
    assert counting is not None
    a, b = (counting.a.port, counting.b.port) if forward else (counting.b.port, counting.a.port)
    ring = [(a, 1), (b, 1), (a, 0), (b, 0)]
    quarter = period_ms / 4
    return [(round(k * quarter * MS) + 10, *ring[k % 4]) for k in range(round(ms / quarter))]


def test_quadrature_counts_both_ways_and_tells_the_speed(watched: tuple[Avr, ProgramPlan]) -> None:
    avr, plan = watched
    counting, loop = plan.drives[0].counting, plan.drives[0].settings.loop
    assert counting is not None and loop is not None
    avr.contacts(**{counting.a.port: 0, counting.b.port: 0})
    avr.run(5)
    start = int(avr.status()[3])
    avr.run(100, _turning(plan, 100, 1.0))
    count = int(avr.status()[3]) - start
    assert abs(count) == 400
    sign = 1 if count > 0 else -1
    avr.run(60, _turning(plan, 60, 1.0, forward=False))
    assert int(avr.status()[3]) - start == sign * (400 - 240)
    avr.ask(send="")
    avr.run(100, _turning(plan, 100, 1.0))
    avr.ask(run=0)
    # 4,000 counts/s on 48 counts a turn are 5,000 rpm, read while it turns.
    from zinc_whistle.core.program.protocol import framed

    avr.ask(send=framed("status 1") + "\n")
    avr.run(60, _turning(plan, 60, 1.0))
    speed = int(avr.lines()[-1].split(" ")[5])
    assert abs(speed) == pytest.approx(5000, rel=0.03)
    assert avr.status()[4] == "0"


@pytest.mark.parametrize(("decoding", "edges"), [("4", 2), ("1", 1)])
def test_one_sensor_alone_counts_along_the_way_that_is_driven(decoding: str, edges: int, tmp_path: Path) -> None:
    """50 periods are 100 edges, or 50 rising ones; driven back they come off again, and after it was let go it counts
    on the way that was driven last."""
    build = styled("pwm and direction", ramp_time="0.05 s", reversal="through zero")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    drive.encoder.channels, drive.encoder.decoding = "1", decoding  # type: ignore[assignment]
    drive.panel.command, drive.panel.stop_input, drive.panel.watch = "serial", "none", "no"
    plan = plan_program(assess(build), "c1")
    counting = plan.drives[0].counting
    assert counting is not None and counting.b is None and "ENC B" not in plan.drives[0].pins
    wave = [(round(k * 0.5 * MS) + 10, counting.a.port, k % 2 ^ 1) for k in range(100)]
    with Avr(compiled(plan, tmp_path)) as avr:
        avr.contacts(**{counting.a.port: 0})
        avr.run(60)
        for told, along in (("duty 1 400", 1), ("duty 1 -400", -1), ("duty 1 0", -1)):
            avr.tell("zero 1")
            for _ in range(4):
                avr.tell(told, 100)
            before = int(avr.status()[3])
            avr.run(60, wave)
            assert int(avr.status()[3]) - before == along * 50 * edges, told
        assert avr.status()[4] == "0"


def test_driven_without_counts_it_stops_and_says_failed(watched: tuple[Avr, ProgramPlan]) -> None:
    avr, _ = watched
    avr.tell("clear", 80)
    avr.tell("duty 1 600", 60)
    assert avr.status()[0] == "forward"
    for _ in range(8):
        avr.tell("hello", 40)
    assert avr.status()[:2] == ["failed", "0"]
    avr.tell("clear", 80)
    assert avr.status()[0] in ("resting", "idle")


def test_a_fault_stops_it_while_it_turns(watched: tuple[Avr, ProgramPlan]) -> None:
    avr, plan = watched
    for _ in range(3):
        avr.tell("clear", 120)
    avr.ask(send="")
    avr.tell("duty 1 500", 10)
    avr.run(80, _turning(plan, 80, 1.0))
    avr.contacts(**{plan.drives[0].pins["FAULT"].port: 0})
    avr.run(40, _turning(plan, 40, 1.0))
    assert avr.status()[:2] == ["failed", "0"]
    avr.contacts(**{plan.drives[0].pins["FAULT"].port: 1})


def test_model_and_program_go_through_the_same_modes_under_random_presses(tmp_path: Path) -> None:
    import random

    plan = planned(quick_winch(), pause="90 ms", debounce="5 ms")
    drive = plan.drives[0]
    contacts = {c.input: c for c in drive.contacts}
    board, rng = Board(plan), random.Random(0)
    pressed = dict.fromkeys(contacts, False)
    with Avr(compiled(plan, tmp_path)) as avr:

        def both(ms: int) -> tuple[list[str], list[str]]:
            avr.contacts(**{c.pin.port: int(pressed[n] != c.low) for n, c in contacts.items()})
            avr.run(ms)
            for _ in range(ms):
                board.tick({1: pressed})
            said = [unframed(x) or "" for x in board.receive("status 1~" + _check("status 1") + "\n")]
            return avr.status(), said[0].split(" ")[3:]

        both(40)
        seen = set()
        for _ in range(45):
            name = rng.choice(list(contacts))
            pressed[name] = rng.random() < (0.15 if name in ("stop", "limit_front", "limit_back") else 0.5)
            program, model = both(rng.choice([40, 90, 180]))
            for _ in range(25):
                board.tick({1: pressed})
            seen.add(program[0])
            assert program[0] == model[0], (pressed, program, model)
            # The program's answer is some ms late: the ramp may have gone on by so much.
            assert abs(int(program[1]) - int(model[1])) <= 1000 * 14 / (drive.settings.ramp_ms or 1)
        assert {"forward", "back", "idle", "stopped"} <= seen


def _check(text: str) -> str:
    from zinc_whistle.core.program.protocol import crc8

    return f"{crc8(text.encode()):02X}"


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ("no timer", "timer"),
        ("edge gates", "centre-aligned"),
        ("no driver", "driver"),
        ("no profile", "language"),
        ("no clock", "clock"),
        ("no encoder", "encoder"),
    ],
)
def test_what_is_missing_is_said_in_a_sentence(change: str, sentence: str) -> None:
    build = styled("two gates" if change == "edge gates" else "pwm and direction")
    drive = build.drives[0]
    assert isinstance(drive, MotorDrive)
    if change == "no timer":
        build.controllers[0].timers = []
    elif change == "edge gates":
        drive.signals.alignment = "edge"
    elif change == "no driver":
        build.units[0].part = None
    elif change == "no profile":
        build.controllers[0].program = ""
    elif change == "no clock":
        build.controllers[0].clock.text = ""
    else:
        drive.encoder.fitted = "no"
        drive.panel.watch = "yes"
    with pytest.raises(NotYet, match=sentence):
        c_source(plan_program(assess(build), "c1"))


def test_a_guard_keeps_its_meaning_in_c() -> None:
    assert guard("forward and not back") == "in->forward && !in->back"
    assert guard("not (a or b) and homed") == "!(in->a || in->b) && d->homed"


def test_two_drives_on_one_controller_share_nothing_but_the_port(tmp_path: Path) -> None:
    build = styled("pwm and direction", pwm_frequency="500 Hz", alignment="edge", soft_start="no")
    second = build.drives[0].model_copy(deep=True)
    assert isinstance(second, MotorDrive) and isinstance(build.drives[0], MotorDrive)
    second.id, second.name, second.unit = "d2", build.drives[0].name, "u2"
    second.encoder.fitted = "no"
    second.signals.pwm_frequency.text = "20 kHz"
    second.signals.alignment = "centre"
    unit = build.units[0].model_copy(deep=True)
    unit.id = "u2"
    build.units.append(unit)
    for drive in (build.drives[0], second):
        drive.panel.command = "serial"
        drive.panel.stop_input = "none"
        drive.panel.watch = "no"
    build.drives.append(second)
    build.controllers = [profile("eight-bit-16").model_copy(update={"id": "c1", "regulator": "r1"}, deep=True)]
    plan = plan_program(assess(build), "c1")
    assert len({d.slug for d in plan.drives}) == 2
    first, other = (d.pins["PWM"].port for d in plan.drives)
    with Avr(compiled(plan, tmp_path), first, other) as avr:
        avr.run(30)
        assert avr.tell("hello") == ["ok hello 2 2"]
        avr.tell("duty 1 500", 30)
        avr.tell("duty 2 250", 30)
        edges = avr.run(20)
        for plans, port, share in zip(plan.drives, (first, other), (0.5, 0.25), strict=True):
            frequency, duty = duty_of(edges, port)
            assert frequency == pytest.approx(plans.timing.frequency_hz, rel=2e-3)
            assert duty == pytest.approx(share, abs=0.01)
        avr.tell("duty 1 0", 100)
        assert avr.status(1)[0] != "forward"
        assert avr.status(2)[0] == "forward"
