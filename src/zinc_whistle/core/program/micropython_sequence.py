"""Sequences and interlocks in MicroPython."""

from __future__ import annotations

from collections.abc import Iterator

from ..panel.script import Guard, Order, ticks_of
from .c_sequence import DEBOUNCE_MS, START_MS
from .planned import ProgramPlan
from .words import python_comment

PLAYER = '''\


# ---- sequences: orders to several drives, one after the other ----

$tables

class Play:
    number = step = waited = 0
    given = by_port = False


def play(number, by_port):
    """Begins a sequence anew, or ends (0): all orders are taken back first."""
    for d in drives.values():
        d.order = 0
    Play.number, Play.step, Play.given, Play.waited, Play.by_port = number, 0, False, 0, by_port


def may_go_on(orders, silent):
    """Silence ends what the port began; a stop, a failure or a hand on a button of its drives ends any."""
    if Play.by_port and silent:
        return False
    return not any(n in drives and (drives[n].upset() or drives[n].touched) for n, *_ in orders)


def done(number, what, until, ticks):
    if until == "limit":
        return drives[number].at_front if what == "forward" else drives[number].at_back
    if until == "rest":
        return drives[number].rests() and Play.waited > 0
    return Play.waited >= ticks if until in ("time", "there") else True


def play_on(silent):
    if not Play.number:
        return
    orders = SCRIPTS[Play.number - 1]
    if not may_go_on(orders, silent):
        play(0, False)
        return
    number, what, until, place, ticks = orders[Play.step]
    if Play.given:
        Play.waited += 1
    else:
        Play.given, Play.waited = True, 0
        if what == "place":
            servos[number].go(place)
            servos[number].by_port = Play.by_port
        else:
            drives[number].order = {"forward": 1, "on": 1, "back": -1}.get(what, 0)
    if not done(number, what, until, ticks):
        return
    if what in ("forward", "back") and until != "at once":
        drives[number].order = 0
    Play.step, Play.given = Play.step + 1, False
    if Play.step < len(orders):
        return
    Play.number = 0
    for n, d in drives.items():
        if n not in LOADS:
            d.order = 0


def look_for_plays():
    """A button that has just been pressed begins its sequence; one that is pressed as power comes begins nothing."""
    for number, contact in PLAYS.items():
        was = contact.steady
        if contact.read() and not was and Wire.now_ms > $start:
            play(number, False)
'''


def tables(plan: ProgramPlan) -> str:
    """The orders of every sequence, the buttons, the loads and the interlocks."""
    ticks = plan.tick_ms
    rows: list[str] = ["SCRIPTS = ("]
    for script in plan.scripts:
        rows.append(f"    (  # {python_comment(script.name)}")
        rows += [f"        {_order(plan, o)}," for o in script.orders]
        rows.append("    ),")
    rows.append(")")
    contacts = ", ".join(
        f"{k}: Contact({c.pin.program}, 0, Pin.PULL_UP, {max(DEBOUNCE_MS // ticks, 1)})"
        for k, c in enumerate(plan.plays, 1)
        if c is not None
    )
    rows.append(f"PLAYS = {{{contacts}}}")
    loads = {plan.numbers[a.id] for s in plan.scripts for a in s.actors.values() if a.kind == "load"}
    rows.append(f"LOADS = {tuple(sorted(loads))}")
    return "\n".join([*rows, *interlocks(plan)]) + "\n"


START = START_MS


def _order(plan: ProgramPlan, order: Order) -> str:
    ticks = ticks_of(order.ms, plan.tick_ms) if order.ms else 0
    return f'({plan.numbers[order.actor]}, "{order.do}", "{order.until}", {order.place}, {ticks})'


def interlocks(plan: ProgramPlan) -> Iterator[str]:
    """For each drive that has any: whether one is open."""
    yield "\n\ndef locked(number):"
    for drive in plan.drives:
        own = [g for g in plan.guards if g.actor == drive.id]
        if own:
            yield f"    if number == {drive.number}:"
            yield "        return not (" + " and ".join(_fact(plan, g) for g in own) + ")"
    yield "    return False"


def _fact(plan: ProgramPlan, guard: Guard) -> str:
    number = plan.numbers[guard.of]
    if guard.fact == "at place":
        ticks = ticks_of(guard.ms, plan.tick_ms)
        return f"servos[{number}].place == {guard.place} and servos[{number}].ticks >= {ticks}"
    return {
        "at front": f"drives[{number}].at_front",
        "at back": f"drives[{number}].at_back",
        "at rest": f"drives[{number}].rests()",
        "on": f"not drives[{number}].rests()",
        "off": f"drives[{number}].rests()",
    }[guard.fact]
