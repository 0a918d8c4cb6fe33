"""Handsets in the MicroPython program: what was heard of each, and what they press."""

from __future__ import annotations

from string import Template

from ..model.handset import MOTION
from ..panel.receiver import LITTLE, NEWER, SYNC
from .planned import ProgramPlan

RADIO = '''\


# ---- handsets by radio: see docs/protocol.md ----

ADDRESS = $address
LOST_TICKS = $lost  # silence of a handset after which what it had in hand stops
# Of each handset its buttons: bit, drive, input.
BUTTONS = {
$buttons
}
MOTION = $motion


class Hand:
    def __init__(self):
        self.last = self.run = self.bits = self.quiet = 0
        self.joined = False  # it sent $sync lines with nothing pressed, one after the other

    def tick(self):
        if self.quiet < LOST_TICKS:
            self.quiet += 1
            if self.quiet >= LOST_TICKS:
                self.joined, self.run, self.bits = False, 0, 0

    def take(self, sequence, bits):
        """A line of it whose check is right. A joined one's must be newer."""
        step = (sequence - self.last) % 256
        if self.joined:
            if not 1 <= step <= $newer:
                return False
            self.bits = bits
        else:
            if self.run and not step:
                return False  # repeated
            self.run = 0 if bits else self.run + 1 if self.run and step <= $little else 1
            self.joined = self.run >= $sync
        self.quiet, self.last = 0, sequence
        return True


hands = {number: Hand() for number in BUTTONS}


def radio_tick():
    for hand in hands.values():
        hand.tick()


def by_hand(drive, on):
    """What handsets press, and who has the drive in hand: it is let go once the drive rests."""
    who = 0
    for number, hand in hands.items():
        for bit, place, name in BUTTONS[number]:
            if place == drive.number and hand.bits >> bit & 1:
                on[name] = True
                if name in MOTION:
                    who = number
    if who:
        drive.hand = who
    elif drive.rests():
        drive.hand = 0
    on["radio_lost"] = drive.hand > 0 and not hands[drive.hand].joined


def by_radio(text):
    """Whether a line is none of the port's: a handset's, or an answer of somebody else who is heard by radio."""
    words = text.split(" ")
    if words[0] in ("ok", "no", "at"):
        return True
    if words[0] != "hand":
        return False
    given = [whole(w) for w in words[1:]]
    if len(given) == 4 and None not in given:
        address, number, sequence, bits = given
        right = address == ADDRESS and number in hands and 0 <= sequence < 256 and 0 <= bits < 256
        if right and hands[number].take(sequence, bits):
            say("ok hand %d %d" % (number, sequence))
    return True
'''
NONE = """\


def radio_tick():
    pass


def by_hand(drive, on):
    pass


def by_radio(text):
    return False
"""


def radio(plan: ProgramPlan) -> str:
    """What was heard of each handset, what each presses, and how its lines are taken."""
    remote = plan.remote
    if remote is None:
        return NONE
    rows = [
        f"    {number}: (" + "".join(f'({b.bit}, {b.drive}, "{b.input}"), ' for b in buttons).rstrip() + "),"
        for number, buttons in remote.buttons.items()
    ]
    return Template(RADIO).substitute(
        address=remote.address,
        lost=remote.lost_ms,
        buttons="\n".join(rows),
        motion="(" + ", ".join(f'"{n}"' for n in MOTION) + ")",
        sync=SYNC,
        newer=NEWER,
        little=LITTLE,
    )
