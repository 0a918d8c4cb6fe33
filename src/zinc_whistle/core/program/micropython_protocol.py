"""The serial port and the line protocol of the MicroPython program.

Written as MicroPython, so that it reads as such; only ``$names`` are filled in.
"""

from __future__ import annotations

FRAMING = """\
def crc8(data):
    value = 0
    for byte in data:
        value ^= byte
        for _ in range(8):
            value = (value << 1 ^ $polynomial if value & 0x80 else value << 1) & 0xFF
    return value


def say(text):
    port.write("%s~%02X\\n" % (text, crc8(text.encode())))
"""
"""How a line gets its check, in a board's program and in a handset's."""
PROTOCOL = """\


# ---- the protocol: see docs/protocol.md ----

drives = {$drives}
servos = {$servos}
COUNT = len(drives) + len(servos)
SIDES, SIGN = $sides, $sign  # left and right of what is steered; the right motor's way
NODES = $nodes  # controllers that run this program on one line
SHIFT = $shift  # of the drives' numbers, in the second of two
ASKED = {"status": 1, "duty": 2, "speed": 2, "go": 2, "move": 2, "home": 1, "counts": 1, "report": 1}
ASKED.update({"sense": 1, "inputs": 1, "prove": 1, "play": 1, "steer": 2, "zero": 1})
ASKED.update({"gains": 1, "tune": 3})
# The contacts, in the order in which they are told:
CONTACTS = $contacts


class Wire:
    line = ""
    silent = LINK_TICKS
    report_ms = now_ms = 0
    clear = proving = False


$lines


def whole(word):
    digits = word[1:] if word[:1] in ("+", "-") else word
    if not digits or len(digits) > 9 or any(d not in "0123456789" for d in digits):
        return None
    return int(word)


def steer(speed, turn):
    # Mixed for both sides; where a side would need more than all, both are lessened alike.
    if not SIDES:
        return "no steering"
    if Wire.proving:
        return "no output"
    if not -1000 <= speed <= 1000 or not -1000 <= turn <= 1000:
        return "no range"
    most = max(abs(speed + turn), abs(speed - turn), 1000)
    drives[SIDES[0]].command("duty", toward_zero((speed + turn) * 1000, most))
    drives[SIDES[1]].command("duty", toward_zero((speed - turn) * 1000, most) * SIGN)
    return "ok steer"


def compare():
    if not SIDES:
        return "no steering"
    left, right = drives[SIDES[0]], drives[SIDES[1]]
    return "ok compare %s %s" % (left.side(1), right.side(SIGN))


def everything(stop):
    for d in drives.values():
        d.way, d.goal, d.home, d.stop = 0, None, False, stop
    play(0, False)


def rest_servos():
    for s in servos.values():
        s.go(None)


def answer(text):
    words = text.split(" ")
    word, given = words[0], [whole(w) for w in words[1:]]
    if word == "compare" and not given:
        return compare()
    if word == "playing" and not given:
        return "ok playing %d %d" % (Play.number, Play.step + 1 if Play.number else 0)
    if word in ("hello", "stop", "clear") and not given:
        if word == "hello":
            return "ok hello $version %d" % (NODES * COUNT)
        everything(word == "stop")
        if word == "stop":
            rest_servos()
        Wire.clear = word == "clear"
        return "ok " + word
    if len(given) != ASKED.get(word, -1):
        return own_command(text) or "no such command"
    if None in given:
        return "no number"
    if word == "report":
        if NODES > 1:
            return "no report"
        if given[0] and not 10 <= given[0] <= 60000:
            return "no range"
        Wire.report_ms = given[0]
        return "ok report"
    if word == "steer":
        return steer(given[0], given[1])
    if word == "play":
        if not 0 <= given[0] <= len(SCRIPTS):
            return "no sequence"
        if Wire.proving:
            return "no output"
        play(given[0], True)
        return "ok play"
    if word == "prove":
        if given[0] not in (0, 1):
            return "no range"
        Wire.proving = given[0] == 1
        play(0, False)
        for d in drives.values():
            d.way, d.goal, d.home = 0, None, False
            d.rest_at_start()
        rest_servos()
        return "ok prove"
    own = given[0] - SHIFT
    if own in servos:
        return servos[own].answer(word, given[-1])
    drive = drives.get(own)
    if drive is None:
        return "no such drive"
    if word == "status":
        return "ok status " + drive.state()
    if word == "counts":
        return drive.counts()
    if word == "zero":
        return drive.zero()
    if word == "sense":
        milliamps = drive.sensed * drive.milliamps // FINE
        return "ok sense %d %d" % (drive.number + SHIFT, milliamps) if drive.sense else "no sense"
    if word in ("gains", "tune"):
        return drive.gains(given[1:])
    if word == "inputs":
        return "ok inputs " + drive.inputs()
    if Wire.proving:
        return "no output"
    if word == "move":
        return drive.move(given[-1])
    return drive.position(word, given[-1]) if word in ("home", "go") else drive.command(word, given[-1])


def turn_of(text):
    # Where two share the line, the one whose drive it is answers; all else is the first's to answer.
    words = text.split(" ")
    number = whole(words[1]) if len(words) > 1 else None
    return COUNT if number is not None and COUNT < number <= NODES * COUNT else 0


def take(char):
    if char == "\\r":
        return
    if char != "\\n":
        if len(Wire.line) <= $longest:
            Wire.line += char
        return
    line, Wire.line = Wire.line, ""
    if not line:
        return
    text = line[:-3]
    if len(line) >= 3 and len(line) <= $longest and line[-3:] == "~%02X" % crc8(text.encode()):
        if by_radio(text):
            return
        Wire.silent = 0
        said = answer(text)
        if SHIFT == turn_of(text):
            say(said)
    elif not SHIFT:
        say("no check")


def listen():
    if port.any():
        for byte in port.read():
            take(chr(byte))


$player
$radio

def tick():
    Wire.now_ms += TICK_MS
    Wire.silent = min(Wire.silent + 1, LINK_TICKS)
    silent = Wire.silent >= LINK_TICKS
    radio_tick()
    if not Wire.proving:
        look_for_plays()
        play_on(silent)
    for s in servos.values():
        s.ticks = min(s.ticks + 1, 60000)
    for d in drives.values():
        d.locked = locked(d.number)
    for d in drives.values():
        if silent:
            d.way, d.goal = 0, None
        if Wire.proving:
            d.prove()
            continue
        d.tick(Wire.clear, silent)
    Wire.clear = False
    for s in servos.values():
        if silent and s.by_port and s.place is not None:
            s.go(None)
        if s.knob is not None and not Wire.proving:
            s.look()
    if Wire.report_ms and Wire.now_ms % Wire.report_ms == 0:
        for d in drives.values():
            say("at %d %s" % (Wire.now_ms, d.state()))
    own_tick()


def main():
    own_start()
    watchdog = WDT(timeout=500)  # a program that hangs starts again, with everything off
    due = time.ticks_ms()
    while True:
        listen()
        if time.ticks_diff(time.ticks_ms(), due) >= 0:
            due = time.ticks_add(due, TICK_MS)
            watchdog.feed()
            tick()


if __name__ == "__main__":
    main()
"""
