"""The control panel: what the builder's choices make, what it can never do, and that the checker sees broken ones."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from zinc_whistle.core.cases.truth import truth_table
from zinc_whistle.core.model.panel import INPUTS, LAMPS, PanelLamp, PanelSpec
from zinc_whistle.core.panel.check import FORBIDDEN, Checked, check, replay
from zinc_whistle.core.panel.lamps import never_lit, rules_of
from zinc_whistle.core.panel.lines import Lines, lines_of, shorts
from zinc_whistle.core.panel.machine import Around, Machine, PanelMode, PanelRule, assemble, evaluate, names_in, parsed
from zinc_whistle.core.panel.runtime import Panel
from zinc_whistle.core.panel.settings import Settings

RELAYS = lines_of(truth_table("coil and pwm", "slow"))
GATES = lines_of(truth_table("two gates", "slow"))
BRIDGE = lines_of(truth_table("two inputs", "slow"))
FULL = {
    "command": "hold",
    "speed_by": "knob",
    "limits": "both",
    "homing": "back",
    "moves": "yes",
    "stop_input": "closed",
    "fault_input": "low",
    "watch": "yes",
}


def made(around: Around = Around(), /, **choices: str) -> tuple[Machine, PanelSpec]:  # noqa: B008
    spec = PanelSpec.model_validate(choices)
    return assemble(spec, around), spec


def wrong(checked: Checked) -> set[str]:
    return {v.code for v in checked.verdicts if not v.holds}


SAFE = [
    dict(zip(("command", "both", "speed_by", "limits", "stop_input", "fault_input", "watch"), values, strict=True))
    for values in itertools.product(
        ("hold", "touch", "serial"),
        ("stop", "first"),
        ("fixed", "knob"),
        ("none", "both"),
        ("none", "open"),
        ("none", "high"),
        ("no", "yes"),
    )
]


@pytest.mark.parametrize("reverses", [True, False])
def test_no_sensible_panel_can_do_what_is_forbidden(reverses: bool) -> None:
    for choices in SAFE:
        machine, spec = made(Around(reverses, rest="brake"), **choices)
        checked = check(machine, spec, RELAYS)
        assert not wrong(checked), (choices, wrong(checked))
        assert checked.states > len(machine.modes) / 2


@pytest.mark.parametrize("command", ["hold", "touch", "serial"])
def test_the_largest_panel_holds_with_homing_and_moves(command: str) -> None:
    machine, spec = made(**FULL | {"command": command})
    checked = check(machine, spec, RELAYS)
    assert checked.holds
    assert checked.inputs == 1 << 16


@pytest.mark.parametrize(
    ("choices", "around", "code"),
    [
        ({"stop_latched": "no"}, Around(), "stop"),
        ({"start_up": "at once"}, Around(), "start"),
        ({"limit_stops": "all"}, Around(), "trapped"),
        ({}, Around(slammed=True), "direction"),
    ],
)
def test_an_unsafe_choice_is_shown_as_a_sequence_of_presses(choices: dict[str, str], around: Around, code: str) -> None:
    machine, spec = made(around, **FULL | choices)
    checked = check(machine, spec, RELAYS)
    assert code in wrong(checked)
    verdict = next(v for v in checked.verdicts if v.code == code)
    assert replay(machine, verdict.steps) == [(s.mode, s.action) for s in verdict.steps]
    assert all(step.says for step in verdict.steps)


def test_the_counter_example_of_a_slammed_reversal_is_the_shortest_and_names_the_presses() -> None:
    machine, spec = made(Around(slammed=True))
    verdict = next(v for v in check(machine, spec).verdicts if v.code == "direction")
    assert [s.says for s in verdict.steps] == ["wait", "press forward", "release forward, press back"]
    assert [s.action for s in verdict.steps] == ["off", "forward", "back"]


def _without(pick: Callable[[PanelRule], bool]) -> Callable[[Machine], Machine]:
    def broken(machine: Machine) -> Machine:
        rules = tuple(r for r in machine.rules if not pick(r))
        assert len(rules) < len(machine.rules), "the mutation changed nothing"
        return Machine(machine.inputs, machine.modes, rules)

    return broken


def _with(pick: Callable[[PanelRule], bool], **change: object) -> Callable[[Machine], Machine]:
    def broken(machine: Machine) -> Machine:
        rules = tuple(replace(r, **change) if pick(r) else r for r in machine.rules)  # type: ignore[arg-type]
        assert rules != machine.rules, "the mutation changed nothing"
        return Machine(machine.inputs, machine.modes, rules)

    return broken


def _mode(name: str, **change: object) -> Callable[[Machine], Machine]:
    def broken(machine: Machine) -> Machine:
        modes = tuple(replace(m, **change) if m.name == name else m for m in machine.modes)  # type: ignore[arg-type]
        assert modes != machine.modes
        return Machine(machine.inputs, modes, machine.rules)

    return broken


def _late_limits(machine: Machine) -> Machine:
    limits = [r for r in machine.rules if r.when.startswith("limit_") and "homing" not in r.modes]
    return Machine(machine.inputs, machine.modes, (*(r for r in machine.rules if r not in limits), *limits))


def _rule(frm: str, to: str) -> Callable[[PanelRule], bool]:
    return lambda r: frm in r.modes and r.to == to


BROKEN: list[tuple[str, Callable[[Machine], Machine], str]] = [
    ("limits not watched", _without(lambda r: r.when == "limit_front"), "limit"),
    ("limits looked at after the buttons", _late_limits, "limit"),
    ("limit not asked before starting", _with(_rule("idle", "forward"), when="forward and not back"), "limit"),
    ("wrong limit", _with(lambda r: r.when == "limit_front", when="limit_back"), "limit"),
    ("homing runs on past its limit", _without(lambda r: "homing" in r.modes and r.when == "limit_back"), "limit"),
    (
        "stop forgotten while slowing",
        _with(lambda r: r.when == "stop", modes=("waiting", "idle", "forward", "back")),
        "stop",
    ),
    ("stop cleared by letting go", _with(lambda r: "stopped" in r.modes, when="not stop"), "stop"),
    ("cleared while pressed", _with(lambda r: "stopped" in r.modes, when="clear", to="forward"), "stop"),
    ("stop does not cut", _mode("stopped", action="forward"), "stop"),
    ("back straight from forward", _with(_rule("forward", "slowing_forward"), to="back"), "direction"),
    ("no rest after slowing", _with(_rule("slowing_forward", "resting"), to="idle"), "direction"),
    ("the rest ends at once", _with(_rule("resting", "idle"), when="True"), "direction"),
    ("slows in the wrong direction", _mode("slowing_forward", action="back"), "direction"),
    ("starts as the buttons stand", _with(lambda r: "waiting" in r.modes and r.to == "idle", when="True"), "start"),
    ("runs at power-up", _with(lambda r: "waiting" in r.modes and r.to == "idle", to="forward"), "start"),
    ("fault not watched", _without(lambda r: r.when == "fault"), "fault"),
    ("knob's wire not watched", _without(lambda r: r.when == "knob_lost"), "fault"),
    ("jam not watched", _without(lambda r: r.when == "stuck"), "fault"),
    ("moves though the port is silent", _without(lambda r: r.when == "link_lost"), "fault"),
    ("both pressed counts as forward", _with(_rule("idle", "forward"), when="forward and not limit_front"), "both"),
    ("moves before homing", _with(_rule("idle", "moving_forward"), when="ahead and not limit_front"), "homing"),
    (
        "a limit stops both directions",
        _with(_rule("idle", "back"), when="back and not forward and not limit_front and not limit_back"),
        "trapped",
    ),
]


@pytest.mark.parametrize(("name", "mutate", "code"), BROKEN, ids=[b[0] for b in BROKEN])
def test_a_broken_machine_is_caught_with_presses_that_show_it(
    name: str, mutate: Callable[[Machine], Machine], code: str
) -> None:
    machine, spec = made(**FULL)
    broken = mutate(machine)
    checked = check(broken, spec, RELAYS)
    assert code in wrong(checked), (name, wrong(checked))
    steps = next(v for v in checked.verdicts if v.code == code).steps
    shown = replay(broken, steps)
    assert shown == [(s.mode, s.action) for s in steps]
    last, action = steps[-1].inputs, steps[-1].action
    if code == "limit":
        assert (action == "forward" and last["limit_front"]) or (action == "back" and last["limit_back"])
    if code in ("stop", "fault", "start", "direction", "homing"):
        assert action in ("forward", "back")


@pytest.mark.parametrize(
    ("levels", "code"),
    [
        (
            {
                "off": {"HIGH": "0", "LOW": "0"},
                "brake": {"HIGH": "0", "LOW": "1"},
                "forward": {"HIGH": "PWM", "LOW": "1"},
                "back": {"HIGH": "0", "LOW": "0"},
            },
            "leg",
        ),
        (
            {
                "off": {"HIGH": "1", "LOW": "1"},
                "brake": {"HIGH": "0", "LOW": "1"},
                "forward": {"HIGH": "PWM", "LOW": "not PWM"},
                "back": {"HIGH": "0", "LOW": "0"},
            },
            "leg",
        ),
    ],
)
def test_lines_that_short_a_leg_are_caught(levels: dict[str, dict[str, str]], code: str) -> None:
    machine, spec = made(Around(reverses=False))
    assert code in wrong(check(machine, spec, Lines(("HIGH", "LOW"), levels, ("HIGH", "LOW"))))  # type: ignore[arg-type]


def test_writing_the_lower_gate_before_the_upper_is_off_is_caught() -> None:
    class Hasty(Lines):
        def writes(self, before, after):  # type: ignore[no-untyped-def]
            now = dict(self.levels[before])
            for name in ("LOW", "HIGH"):
                now[name] = self.levels[after][name]
                yield dict(now)

    machine, spec = made(Around(reverses=False, rest="brake"))
    assert not wrong(check(machine, spec, GATES))
    assert "leg" in wrong(check(machine, spec, Hasty(GATES.names, GATES.levels, GATES.leg)))


def test_coils_that_move_under_pulses_are_caught() -> None:
    class Hasty(Lines):
        def writes(self, before, after):  # type: ignore[no-untyped-def]
            yield dict(self.levels[after]) | {"PWM": self.levels[before]["PWM"]}
            yield dict(self.levels[after])

    machine, spec = made()
    assert "leg" in wrong(check(machine, spec, Hasty(RELAYS.names, RELAYS.levels, None, RELAYS.coils)))


@pytest.mark.parametrize(
    ("choices", "sentence"),
    [
        ({"homing": "back"}, "limit switches"),
        ({"moves": "yes", "limits": "both"}, "homing first"),
    ],
)
def test_choices_that_do_not_go_together_are_refused_in_words(choices: dict[str, str], sentence: str) -> None:
    with pytest.raises(ValueError, match=sentence):
        made(**choices)


def test_homing_wants_both_directions() -> None:
    with pytest.raises(ValueError, match="both ways"):
        made(Around(reverses=False), homing="back", limits="both")


def test_every_rule_reads_only_inputs_of_its_machine_and_leads_to_a_mode() -> None:
    for choices in [*SAFE, FULL]:
        machine, _ = made(**choices)
        names = {m.name for m in machine.modes}
        for rule in machine.rules:
            assert names_in(rule.when) <= {*machine.inputs, "homed", "True"}
            assert rule.to in names and set(rule.modes) <= names


@pytest.mark.parametrize("guard", ["__import__('os')", "a + b", "a if b else c", "f(x)", "a.b", "[a]"])
def test_a_guard_holds_nothing_but_names_and_logic(guard: str) -> None:
    with pytest.raises(ValueError, match="guard"):
        parsed(guard)


@given(st.lists(st.booleans(), min_size=4, max_size=4))
def test_a_guard_means_the_same_on_sets_as_in_python(bits: list[bool]) -> None:
    values = dict(zip("abcd", bits, strict=True))
    sets = {n: int(v) for n, v in values.items()}
    for guard in ("a and not b", "not (a or b) and c", "a or b and not (c or not d)", "True"):
        assert bool(evaluate(guard, sets) & 1) == bool(eval(guard, {}, values))


def quick(**numbers: Any) -> Settings:
    usual: dict[str, Any] = {"full": 400, "wanted": 300, "ramp_ms": 40, "pause_ms": 20, "debounce_ms": 5}
    return Settings(**usual | numbers)


def pressed(panel: Panel, ms: int, **inputs: bool) -> list:  # type: ignore[type-arg]
    return [panel.tick(inputs) for _ in range(ms)]


def test_a_ramp_takes_the_time_it_was_given_and_reaches_the_wanted_level() -> None:
    machine, _ = made()
    panel = Panel(machine, BRIDGE, quick(debounce_ms=1))
    pressed(panel, 5)
    rise = [now.level for now in pressed(panel, 60, forward=True)]
    assert rise[-1] == 300
    assert 29 <= rise.index(300) <= 32, "0 to 300 of 400 at 400 in 40 ms takes 30 ms"
    assert max(b - a for a, b in itertools.pairwise(rise)) <= 10


def test_a_bouncing_contact_counts_once_it_has_stayed() -> None:
    machine, _ = made()
    panel = Panel(machine, BRIDGE, quick())
    pressed(panel, 10)
    for _ in range(6):
        assert {n.mode for n in [*pressed(panel, 3, forward=True), *pressed(panel, 2)]} == {"idle"}
    assert pressed(panel, 6, forward=True)[-1].mode == "forward"


def test_reversing_ramps_down_rests_and_ramps_up() -> None:
    machine, _ = made()
    panel = Panel(machine, BRIDGE, quick(debounce_ms=1))
    pressed(panel, 5)
    pressed(panel, 60, forward=True)
    course = pressed(panel, 200, back=True)
    modes = [m for m, _ in itertools.groupby(now.mode for now in course)]
    assert modes == ["slowing_forward", "resting", "idle", "back"]
    still = [now for now in course if now.level == 0]
    assert len(still) >= 20
    assert course[-1].lines == {"IN 1": "0", "IN 2": "PWM"}


@given(
    st.lists(
        st.tuples(st.sampled_from(["forward", "back", "both", "none", "limit", "stop"]), st.integers(1, 60)),
        max_size=25,
    )
)
@settings(deadline=None, max_examples=60)
def test_relay_coils_never_move_while_pulses_flow_nor_within_their_wait(presses: list[tuple[str, int]]) -> None:
    machine, _ = made(Around(rest="brake"), limits="both", stop_input="open")
    panel = Panel(machine, RELAYS, quick(coil_ms=12, debounce_ms=2))
    kinds = {
        "forward": {"forward": True},
        "back": {"back": True},
        "both": {"forward": True, "back": True},
        "none": {},
        "limit": {"limit_front": True, "forward": True},
        "stop": {"stop": True},
    }
    course = [now for kind, ms in presses for now in pressed(panel, ms, **kinds[kind])]
    last_pulse, last_move, coils = -100, -100, ("0", "0")
    for at, now in enumerate(course):
        here = (now.lines["COIL 1"], now.lines["COIL 2"])
        if now.lines["PWM"] == "PWM":
            last_pulse = at
            assert at - last_move >= 12, "pulses wait until the contacts have stopped bouncing"
        if here != coils:
            assert at - last_pulse >= 12, "contacts move only after the current has had time to die"
            last_move, coils = at, here
        assert here != ("1", "1")


def test_locked_anti_phase_never_leaves_the_direction_line_low_while_driving() -> None:
    lines = lines_of(truth_table("pwm and direction", "locked anti-phase"))
    assert lines.opposed
    machine, _ = made()
    panel = Panel(machine, lines, quick(debounce_ms=1))
    pressed(panel, 5)
    for now in pressed(panel, 60, forward=True):
        if now.action == "forward":
            assert now.lines == {"PWM": "1", "DIR": "PWM"}


def test_the_breakaway_offset_skips_what_only_hums_and_keeps_both_ends() -> None:
    machine, _ = made()
    panel = Panel(machine, BRIDGE, quick(offset=80))
    assert panel.applied(0) == 0
    assert panel.applied(1) == 80
    assert panel.applied(400) == 400
    steps = [panel.applied(k) for k in range(1, 401)]
    assert steps == sorted(steps)


@pytest.mark.parametrize(
    "style",
    [
        "two inputs",
        "pwm and direction",
        "pwm, direction, brake",
        "two inputs and enable",
        "coil and pwm",
        "one input",
        "two gates",
    ],
)
@pytest.mark.parametrize("decay", ["slow", "fast", "locked anti-phase"])
def test_every_input_style_has_lines_for_every_action_and_no_write_shorts(style: str, decay: str) -> None:
    lines = lines_of(truth_table(style, decay))
    assert any("PWM" in v for v in lines.levels["forward"].values())
    for before, after in itertools.product(lines.levels, repeat=2):
        for levels in lines.writes(before, after):
            assert not shorts(levels, lines.leg)
        if before != after and lines.levels[before] != lines.levels[after]:
            assert list(lines.writes(before, after))[-1] == dict(lines.levels[after])


def test_what_is_forbidden_is_told_in_words_and_every_input_too() -> None:
    machine, _ = made(**FULL)
    assert set(machine.inputs) <= set(INPUTS)
    assert {v.code for v in check(machine, PanelSpec.model_validate(FULL)).verdicts} == set(FORBIDDEN) - {
        "ends",
        "locked",
    }
    assert all(isinstance(m, PanelMode) and m.says for m in machine.modes)


def lamps(*when: str) -> list[PanelLamp]:
    return [PanelLamp.model_validate({"id": f"l{k}", "name": w, "when": w}) for k, w in enumerate(when, 1)]


@pytest.mark.parametrize("when", LAMPS)
def test_a_lamp_is_lit_in_just_the_modes_that_it_is_named_for(when: str) -> None:
    machine, _ = made(**FULL)
    (rule,) = rules_of(machine, lamps(when))
    inputs = dict.fromkeys(machine.inputs, False)
    lit = {m.name for m in machine.modes if rule.lit(m.name, False, inputs)}
    driving = {m.name for m in machine.modes if m.action in ("forward", "back")}
    assert lit == {
        "driving": driving,
        "forward": {n for n in driving if machine.by_name[n].action == "forward"},
        "back": {n for n in driving if machine.by_name[n].action == "back"},
        "ready": {"idle"},
        "trouble": {"stopped", "failed"},
        "homed": set(),
        "limit_front": set(),
        "limit_back": set(),
    }.get(when, {when})
    assert not never_lit(machine, rule)
    assert rule.lit("idle", when == "homed", inputs | ({when: True} if when.startswith("limit") else {})) is (
        when in ("ready", "homed", "limit_front", "limit_back")
    )


def test_a_lamp_for_what_the_panel_has_not_is_told() -> None:
    machine, _ = made()
    dark = {r.name for r in rules_of(machine, lamps(*LAMPS)) if never_lit(machine, r)}
    assert dark == {"stopped", "failed", "trouble", "homed", "limit_front", "limit_back"}


SIDE_BY_SIDE = {"command": "hold", "touch_too": "yes", "trip": "yes", "clear_by": "release", "stop_input": "open"}


@pytest.mark.parametrize("more", [{}, {"limits": "both"}, {"limits": "back", "homing": "back"}, {"moves": "relative"}])
@pytest.mark.parametrize("reverses", [True, False])
def test_what_stands_beside_the_buttons_can_do_nothing_forbidden(more: dict[str, str], reverses: bool) -> None:
    if "homing" in more and not reverses:
        return
    machine, spec = made(Around(reverses), **SIDE_BY_SIDE | more)
    checked = check(machine, spec, RELAYS)
    assert not wrong(checked), [(v.code, [s.says for s in v.steps]) for v in checked.verdicts if not v.holds]


def test_the_largest_panel_of_all_is_checked_whole() -> None:
    machine, spec = made(**FULL | {"touch_too": "yes", "trip": "yes", "moves": "relative", "homing": "none"})
    checked = check(machine, spec, RELAYS)
    assert checked.inputs == 1 << 20 and not wrong(checked)


@pytest.mark.parametrize(
    ("breaks", "code"),
    [
        (_without(lambda r: r.when == "over"), "fault"),
        (_without(lambda r: r.when == "end_front"), "ends"),
        (_without(lambda r: r.when == "locked"), "locked"),
        (_with(lambda r: r.to == "touched_back", when="run_back"), "both"),
    ],
)
def test_a_broken_panel_of_both_kinds_is_seen(breaks: Callable[[Machine], Machine], code: str) -> None:
    machine, spec = made(Around(locked=True), **SIDE_BY_SIDE | {"moves": "relative"})
    assert not wrong(check(machine, spec, RELAYS))
    assert code in wrong(check(breaks(machine), spec, RELAYS))


def test_two_schools_of_a_move_do_not_go_together() -> None:
    with pytest.raises(ValueError, match="choose one of the two"):
        made(moves="relative", homing="back", limits="both")
