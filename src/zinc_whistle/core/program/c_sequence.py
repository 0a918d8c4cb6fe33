"""Sequences and interlocks in C: tables of orders, the same player for every build."""

from __future__ import annotations

from collections.abc import Iterator

from ..panel.script import Guard, Order
from .c_names import bit_of, register
from .planned import ProgramPlan
from .words import c_comment

PLAYER = """\
/* ---- sequences: orders to several drives, one after the other ---- */

enum what { HALT, GO_FORWARD, GO_BACK, SWITCH_ON, PLACE };
enum until { LIMIT, AFTER, REST, AT_ONCE };

struct order {
    uint8_t what, until;
    struct drive *drive; /* or a servo: */
    void (*go)(int16_t place);
    bool *by_port;
    int16_t place;
    uint32_t ms;
};

struct script {
    const struct order *orders;
    uint8_t length;
};

$tables
static uint8_t playing, at_step;
static bool given, played_by_port;
static uint32_t waited;

static bool rests(const struct drive *d)
{
    uint8_t action = d->k->actions[d->mode];
    return action != FORWARD && action != BACK;
}

/* A drive that takes no orders. */
static bool upset(const struct drive *d)
{
    const char *mode = d->k->names[d->mode];
    return !strcmp(mode, "waiting") || !strcmp(mode, "stopped") || !strcmp(mode, "failed");
}

/* Begins a sequence anew, or ends (0): all orders are taken back first. */
static void play(uint8_t number, bool by_port)
{
    for (struct drive *d = drives; d < drives + DRIVES; d++)
        d->order = 0;
    playing = number;
    played_by_port = by_port;
    at_step = 0;
    given = false;
    waited = 0;
}

/* Silence ends what the port began; a stop, a failure or a hand on a button of its drives ends any. */
static bool may_go_on(const struct script *s, bool silent)
{
    if (played_by_port && silent)
        return false;
    for (const struct order *o = s->orders; o < s->orders + s->length; o++)
        if (o->drive && (upset(o->drive) || o->drive->touched))
            return false;
    return true;
}

static bool done(const struct order *o)
{
    switch (o->until) {
    case LIMIT:
        return o->what == GO_FORWARD ? o->drive->at_front : o->drive->at_back;
    case REST:
        return rests(o->drive) && waited;
    case AFTER:
        return waited >= o->ms;
    }
    return true;
}

static void give(const struct order *o)
{
    given = true;
    waited = 0;
    if (o->go) {
        o->go(o->place);
        *o->by_port = played_by_port;
    } else {
        o->drive->order = o->what == GO_BACK ? -1 : o->what != HALT;
    }
}

static void play_on(bool silent)
{
    if (!playing)
        return;
    const struct script *s = &scripts[playing - 1];
    if (!may_go_on(s, silent)) {
        play(0, false);
        return;
    }
    const struct order *o = &s->orders[at_step];
    if (given)
        waited++;
    else
        give(o);
    if (!done(o))
        return;
    if ((o->what == GO_FORWARD || o->what == GO_BACK) && o->until != AT_ONCE)
        o->drive->order = 0;
    given = false;
    if (++at_step < s->length)
        return;
    playing = 0;
    for (struct drive *d = drives; d < drives + DRIVES; d++)
        if (!d->k->load)
            d->order = 0;
}

"""
WHAT = {
    "forward": "GO_FORWARD",
    "back": "GO_BACK",
    "stop": "HALT",
    "on": "SWITCH_ON",
    "off": "HALT",
    "place": "PLACE",
}
UNTIL = {"limit": "LIMIT", "time": "AFTER", "there": "AFTER", "rest": "REST", "at once": "AT_ONCE"}
DEBOUNCE_MS, START_MS = 20, 50
"""A button of a sequence must stay for so long, and begins nothing so shortly after power has come."""


def tables(plan: ProgramPlan) -> str:
    """The orders of every sequence, and the list of them."""
    made = []
    for number, script in enumerate(plan.scripts, 1):
        rows = "\n".join(f"    {{{_order(plan, o)}}}," for o in script.orders)
        made.append(f"/* {c_comment(script.name)} */\nstatic const struct order script_{number}[] = {{\n{rows}\n}};\n")
    listed = ", ".join(f"{{script_{n}, {len(s.orders)}}}" for n, s in enumerate(plan.scripts, 1)) or "{0}"
    size = "SCRIPTS" if plan.scripts else "SCRIPTS + 1"
    made.append(f"static const struct script scripts[{size}] = {{{listed}}};\n")
    return "".join(made)


def _order(plan: ProgramPlan, order: Order) -> str:
    servo = next((s for s in plan.servos if s.id == order.actor), None)
    place = next((k for k, d in enumerate(plan.drives) if d.id == order.actor), 0)
    fields = [f".what = {WHAT[order.do]}", f".until = {UNTIL[order.until]}"]
    if servo is not None:
        fields += [f".go = {servo.slug}_go", f".by_port = &{servo.slug}_by_port", f".place = {order.place}"]
    else:
        fields.append(f".drive = &drives[{place}]")
    return ", ".join([*fields, *([f".ms = {order.ms}UL"] if order.ms else [])])


def declared(plan: ProgramPlan) -> Iterator[str]:
    """Interlocks are told to the tables before they are written."""
    guarded = {g.actor for g in plan.guards}
    yield from (f"static bool {d.slug}_locked(void);" for d in plan.drives if d.id in guarded)


def interlocks(plan: ProgramPlan) -> Iterator[str]:
    """For each drive that has any: whether one is open."""
    for drive in plan.drives:
        own = [g for g in plan.guards if g.actor == drive.id]
        if own:
            yield f"static bool {drive.slug}_locked(void)"
            yield "{"
            yield "    return " + "\n        || ".join(f"!({_fact(plan, g)})" for g in own) + ";"
            yield "}\n"


def _fact(plan: ProgramPlan, guard: Guard) -> str:
    servo = next((s for s in plan.servos if s.id == guard.of), None)
    if servo is not None:
        return f"{servo.slug}_place == {guard.place} && {servo.slug}_for >= {min(guard.ms, 60000)}"
    place = next(k for k, d in enumerate(plan.drives) if d.id == guard.of)
    return {
        "at front": f"drives[{place}].at_front",
        "at back": f"drives[{place}].at_back",
        "at rest": f"rests(&drives[{place}])",
        "on": f"!rests(&drives[{place}])",
        "off": f"rests(&drives[{place}])",
    }[guard.fact]


def buttons(plan: ProgramPlan) -> str:
    """What looks at the buttons of sequences; nothing where there are none."""
    own = [(k, c) for k, c in enumerate(plan.plays, 1) if c is not None]
    if not own:
        return ""
    named = "".join(f"static struct contact play_{k};\n" for k, _ in own)
    read = "".join(
        f"    if (begins(&play_{k}, !({register('PIN', c.pin)} & {bit_of(c.pin)})))\n        play({k}, false);\n"
        for k, c in own
    )
    return f"""{named}
/* A button that has just been pressed; one that is pressed as power comes begins nothing. */
static bool begins(struct contact *c, bool now)
{{
    bool was = c->steady;
    return settled(c, now, {DEBOUNCE_MS}) && !was && now_ms > {START_MS};
}}

static void look_for_plays(void)
{{
{read}}}

"""
