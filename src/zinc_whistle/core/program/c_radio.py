"""Handsets in the C program: what was heard of each, and what they press.

Written as C; only ``$names`` are filled in.
"""

from __future__ import annotations

from collections.abc import Iterator
from string import Template

from ..model.handset import MOTION
from ..panel.receiver import LITTLE, NEWER, SYNC
from .c_names import up_name
from .planned import DriveProgram, ProgramPlan

HANDS = """\
/* ---- handsets by radio: see docs/protocol.md ---- */

#define ADDRESS $address
#define LOST_MS $lost /* silence of a handset after which what it had in hand stops */
#define HANDS $count

static struct hand {
    uint8_t number, last, run, bits;
    bool joined; /* it sent $sync lines with nothing pressed, one after the other */
    uint16_t quiet;
} hands[HANDS] = {$numbers};

static void radio_tick(void)
{
    for (struct hand *h = hands; h < hands + HANDS; h++)
        if (h->quiet < LOST_MS && ++h->quiet >= LOST_MS) {
            h->joined = false;
            h->run = h->bits = 0;
        }
}

/* What handsets press, and who has the drive in hand: it is let go once the drive rests. */
static void by_hand(struct drive *d, struct inputs *in)
{
    uint8_t who = d->k->hand(in), action = d->k->actions[d->mode];
    if (who)
        d->hand = who;
    else if (action != FORWARD && action != BACK)
        d->hand = 0;
    in->radio_lost = d->hand && !hands[d->hand - 1].joined;
}

static bool by_radio(char *text);

"""

RADIO = """\

/* A line of a handset whose check is right. A joined one's must be newer; to join it sends $sync, nothing pressed. */
static bool heard(int32_t address, int32_t number, int32_t sequence, int32_t bits)
{
    struct hand *h = hands;
    while (h < hands + HANDS && h->number != number)
        h++;
    if (address != ADDRESS || h == hands + HANDS || sequence < 0 || sequence > 255 || bits < 0 || bits > 255)
        return false;
    uint8_t step = (uint8_t)(sequence - h->last);
    if (h->joined) {
        if (step < 1 || step > $newer)
            return false;
        h->bits = (uint8_t)bits;
    } else {
        if (h->run && !step)
            return false; /* repeated */
        h->run = bits ? 0 : h->run && step <= $little ? h->run + 1 : 1;
        h->joined = h->run >= $sync;
    }
    h->quiet = 0;
    h->last = (uint8_t)sequence;
    return true;
}

/* Whether a line is none of the port's: a handset's, or an answer of somebody else who is heard by radio. */
static bool by_radio(char *text)
{
    int32_t x[4];
    uint8_t count = 0;
    size_t first = strcspn(text, " ");
    if (first == 2 && (!memcmp(text, "ok", 2) || !memcmp(text, "no", 2) || !memcmp(text, "at", 2)))
        return true;
    if (first != 4 || memcmp(text, "hand", 4))
        return false;
    for (char *word = text[4] ? text + 5 : 0; word;) {
        char *next = strchr(word, ' ');
        if (next)
            *next++ = 0;
        if (count == 4 || !whole(word, &x[count++]))
            return true;
        word = next;
    }
    if (count == 4 && heard(x[0], x[1], x[2], x[3])) {
        char reply[20];
        snprintf(reply, sizeof reply, "ok hand %ld %ld", (long)x[1], (long)x[2]);
        say(reply);
    }
    return true;
}
"""


def hands(plan: ProgramPlan) -> str:
    """What was heard of each handset, and what each presses of each drive; nothing without handsets."""
    remote = plan.remote
    if remote is None:
        return ""
    text = Template(HANDS).substitute(
        address=remote.address,
        lost=remote.lost_ms,
        count=len(remote.buttons),
        sync=SYNC,
        numbers=", ".join(f"{{.number = {n}}}" for n in remote.buttons),
    )
    return text + "".join(f"{line}\n" for d in plan.drives for line in _pressed(plan, d))


def radio(plan: ProgramPlan) -> str:
    """How lines of handsets are taken; nothing without handsets."""
    return Template(RADIO).substitute(sync=SYNC, newer=NEWER, little=LITTLE) if plan.remote is not None else ""


def commanded(plan: ProgramPlan, drive: DriveProgram) -> bool:
    """Whether a handset has a button for a drive."""
    return plan.remote is not None and any(b.drive == drive.number for x in plan.remote.buttons.values() for b in x)


def _pressed(plan: ProgramPlan, d: DriveProgram) -> Iterator[str]:
    """What handsets press of a drive; gives the place of the last one that moves it, from 1."""
    if plan.remote is None or not commanded(plan, d):
        return
    yield f"static uint8_t {d.slug}_hand(struct inputs *in)"
    yield "{"
    yield "    uint8_t who = 0;"
    for place, (number, buttons) in enumerate(plan.remote.buttons.items()):
        for b in (b for b in buttons if b.drive == d.number):
            yield f"    if (hands[{place}].bits & {1 << b.bit}) {{ /* {up_name(d)}, handset {number} */"
            yield f"        in->{b.input} = true;"
            if b.input in MOTION:
                yield f"        who = {place + 1};"
            yield "    }"
    yield "    return who;"
    yield "}\n"
