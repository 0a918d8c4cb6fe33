"""A controller that runs the program, as a model: panels, servos and the protocol, tick by tick.

The generated programs are held against this one, line by line; it is also what a simulated board answers with.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..model.handset import MOTION
from ..panel.player import HANDS, UPSET, DriveReport, Player, locked
from ..panel.receiver import Receiver
from ..panel.runtime import Panel
from ..panel.settings import BOUNCING, MILLIAMPS, MOST_GAIN
from .board_parts import NOT_FOR_US, START_MS, WORDS, BoardDrive, BoardServo, mixed
from .planned import ProgramPlan
from .protocol import LONGEST, VERSION, framed, unframed, whole


@dataclass(slots=True)
class Board:
    """The whole controller. ``receive`` takes bytes as they come; ``tick`` passes a millisecond; both give lines
    out."""

    plan: ProgramPlan
    second: bool = False
    """Whether it is the second of two on one line: its identity pin is at ground."""
    drives: dict[int, BoardDrive] = field(default_factory=dict)
    servos: dict[int, BoardServo] = field(default_factory=dict)
    ms: int = 0
    silent_ms: int = 0
    report_ms: int = 0
    clear: bool = False
    proving: bool = False
    shift: int = 0
    player: Player = field(default_factory=lambda: Player(()))
    held: dict[int, bool] = field(default_factory=dict)
    """Which buttons of sequences are pressed."""
    receiver: Receiver | None = None
    _line: str = ""

    def __post_init__(self) -> None:
        self.shift = self.plan.count if self.second else 0
        for d in self.plan.drives:
            self.drives[d.number] = BoardDrive(d, Panel(d.machine, d.lines, d.settings, lamps=d.lamps))
        self.servos = {s.number: BoardServo(s) for s in self.plan.servos}
        self.silent_ms = self.plan.link_ms
        self.player = Player(self.plan.scripts, self.plan.tick_ms)
        self.receiver = Receiver(self.plan.remote) if self.plan.remote is not None else None
        self.held = {k: False for k, _ in enumerate(self.plan.plays, 1)}

    def receive(self, text: str) -> list[str]:
        """Characters from the port; the answers to the lines that they complete, framed."""
        answers = []
        for char in text:
            if char == "\n":
                line, self._line = self._line, ""
                if line:
                    said = self._answer(line)
                    if said and self.shift == self._turn_of(line):
                        answers.append(framed(said))
            elif char != "\r":
                self._line = (self._line + char)[: LONGEST + 1]
        return answers

    def _turn_of(self, line: str) -> int:
        """Whose turn it is to answer: where two share the line the one whose drive it is, for all else the first."""
        words = (unframed(line) or "").split(" ")
        number = whole(words[1]) if len(words) > 1 else None
        count = self.plan.count
        return count if number is not None and count < number <= self.plan.nodes * count else 0

    def _answer(self, line: str) -> str:
        text = unframed(line)
        if text is None:
            return "no check"
        words = text.split(" ")
        numbers = [whole(w) for w in words[1:]]
        if self.receiver is not None:
            if words[0] in NOT_FOR_US:
                return ""
            if words[0] == "hand":
                # What a handset sends does not keep alive what the port asked for.
                given = [n for n in numbers if n is not None]
                told = len(given) == len(numbers) == WORDS["hand"] and self.receiver.take(*given)
                return f"ok hand {given[1]} {given[2]}" if told else ""
        self.silent_ms = 0
        if words[0] in ("hello", "stop", "clear", "playing", "compare"):
            return self._plain(words[0]) if len(words) == 1 else "no such command"
        asked = WORDS.get(words[0]) if words[0] != "hand" else None
        if asked is None or len(numbers) != asked:
            return "no such command"
        if any(n is None for n in numbers):
            return "no number"
        given = [n for n in numbers if n is not None]
        if words[0] == "report":
            if self.plan.nodes > 1:
                return "no report"
            if given[0] and not 10 <= given[0] <= 60000:
                return "no range"
            self.report_ms = given[0]
            return "ok report"
        if words[0] == "prove":
            return self._prove(given[0])
        if words[0] == "play":
            return self._play(given[0])
        if words[0] == "steer":
            return self._steer(given[0], given[1])
        own = given[0] - self.shift
        if own in self.servos:
            return self._servo(words[0], self.servos[own], given)
        if own not in self.drives:
            return "no such drive"
        return self._drive(words[0], self.drives[own], given)

    def _plain(self, word: str) -> str:
        if word == "compare":
            return self._compare()
        if word == "playing":
            return f"ok playing {self.player.playing} {self.player.step + 1 if self.player.playing else 0}"
        if word != "hello":
            self.player.play(0, False)
        if word == "hello":
            return f"ok hello {VERSION} {self.plan.nodes * self.plan.count}"
        if word == "clear":
            self.clear = True
            for drive in self.drives.values():
                drive.way, drive.goal, drive.home, drive.stop = 0, None, False, False
            return "ok clear"
        for drive in self.drives.values():
            drive.way, drive.goal, drive.home, drive.stop = 0, None, False, True
        for servo in self.servos.values():
            servo.place = None
        return "ok stop"

    def _steer(self, speed: int, turn: int) -> str:
        """Speed and turn (‰) mixed for both sides; where a side would need more than all, both are lessened alike."""
        if self.plan.steering is None:
            return "no steering"
        if self.proving:
            return "no output"
        if abs(speed) > 1000 or abs(turn) > 1000:
            return "no range"
        left, right, mirrored = self.plan.steering
        sides = mixed(speed, turn)
        for number, side in ((left, sides[0]), (right, -sides[1] if mirrored else sides[1])):
            self._command("duty", self.drives[number], [number, side])
        return "ok steer"

    def _compare(self) -> str:
        """Counts and currents of both sides (- where nothing tells them); ahead is positive on both."""
        if self.plan.steering is None:
            return "no steering"
        *sides, mirrored = self.plan.steering
        told = []
        for number, sign in zip(sides, (1, -1 if mirrored else 1), strict=True):
            drive = self.drives[number]
            amps = drive.sensed * drive.program.settings.milliamps_fine // MILLIAMPS
            told += [str(sign * drive.count) if drive.program.counting else "-"]
            told += [str(amps) if "SENSE" in drive.program.pins else "-"]
        return "ok compare " + " ".join(told)

    def _play(self, number: int) -> str:
        if not 0 <= number <= len(self.plan.scripts):
            return "no sequence"
        if self.proving:
            return "no output"
        self.player.play(number, True)
        return "ok play"

    def _prove(self, on: int) -> str:
        """Proving: all outputs stay off, and the inputs are told as they stand. It ends as power comes: all let go."""
        if on not in (0, 1):
            return "no range"
        self.proving = bool(on)
        self.player.play(0, False)
        for drive in self.drives.values():
            drive.way, drive.goal, drive.home = 0, None, False
            drive.panel.rest_at_start()
        for servo in self.servos.values():
            servo.place = None
        return "ok prove"

    def _servo(self, word: str, servo: BoardServo, given: list[int]) -> str:
        if word == "status":
            return f"ok status {given[0]} {'off' if servo.place is None else 'on'} {servo.place or 0} 0 0 0"
        if word != "duty":
            return "no servo"
        if self.proving:
            return "no output"
        if not 0 <= given[1] <= 1000:
            return "no range"
        servo.place, servo.placed.by_port = given[1], True
        return "ok duty"

    def _drive(self, word: str, drive: BoardDrive, given: list[int]) -> str:
        if word == "status":
            return "ok status " + self._state(drive)
        if word == "counts":
            return f"ok counts {given[0]} {drive.count} {drive.bad}" if drive.program.counting else "no encoder"
        if word == "zero":
            return self._zero(drive)
        if word == "sense":
            sensed = drive.sensed * drive.program.settings.milliamps_fine // MILLIAMPS
            return f"ok sense {given[0]} {sensed}" if "SENSE" in drive.program.pins else "no sense"
        if word in ("gains", "tune"):
            return self._gains(drive, given)
        if word == "inputs":
            return "ok inputs " + self._inputs(drive, given[0])
        if self.proving:
            return "no output"
        if word in ("go", "move", "home"):
            return self._position(word, drive, given)
        return self._command(word, drive, given)

    def _command(self, word: str, drive: BoardDrive, given: list[int]) -> str:
        """Duty and speed: only where the port commands the drive."""
        settings, machine = drive.program.settings, drive.program.machine
        if drive.program.panel.command != "serial":
            return "no panel"
        loop = settings.loop
        if word == "speed" and loop is None:
            return "no encoder"
        if not -30000 <= given[1] <= 30000 or (word == "duty" and not -1000 <= given[1] <= 1000):
            return "no range"
        if given[1] < 0 and "back" not in machine.inputs:
            return "no way back"
        size = abs(given[1])
        if word == "duty":
            level = size * settings.full // 1000
        else:
            assert loop is not None
            level = min(loop.level_of(size), settings.full)
        drive.way = (given[1] > 0) - (given[1] < 0)
        if drive.way:
            drive.panel.wanted, drive.panel.open_loop = level, word == "duty"
        drive.goal = None
        return f"ok {word}"

    def _position(self, word: str, drive: BoardDrive, given: list[int]) -> str:
        """Homing and moves."""
        machine, ends = drive.program.machine, drive.program.settings.ends
        if word == "move":
            goal = drive.count + given[1]
            if "ahead" not in machine.inputs:
                return "no moves"
            if ends is None and not drive.panel.homed:
                return "no home yet"
            if ends is not None and not ends[0] <= goal <= ends[1]:
                return "no range"
            drive.goal, drive.way = goal, 0
            return "ok move"
        if "home" not in machine.inputs or (word == "go" and "ahead" not in machine.inputs):
            return "no homing"
        if word == "home":
            if drive.program.panel.command != "serial":
                return "no panel"
            drive.home, drive.goal, drive.way = True, None, 0
            return "ok home"
        if not drive.panel.homed:
            return "no home yet"
        drive.goal, drive.way = given[1], 0
        return "ok go"

    @staticmethod
    def _gains(drive: BoardDrive, given: list[int]) -> str:
        """Gains of the loop, as the program counts them; told, or others taken until power goes."""
        number, *wanted = given
        loop = drive.panel.settings.loop
        if loop is None or not loop.closed:
            return "no loop"
        if wanted:
            if not 1 <= wanted[0] <= MOST_GAIN or not 0 <= wanted[1] <= MOST_GAIN:
                return "no range"
            drive.panel.tuned(wanted[0], wanted[1])
            return f"ok tune {number} {wanted[0]} {wanted[1]}"
        return f"ok gains {number} {loop.gain_fine} {loop.integral_fine}"

    @staticmethod
    def _zero(drive: BoardDrive) -> str:
        """The counter is set to zero where it stands; what was homed to another zero is homed no more."""
        if drive.program.counting is None:
            return "no encoder"
        drive.zero += drive.count
        drive.count = drive.panel.count = drive.panel.last_count = 0
        drive.panel.homed, drive.goal = False, None
        return "ok zero"

    def _inputs(self, drive: BoardDrive, number: int) -> str:
        """Every contact as it stands, in the order of BOUNCING (- for one that there is not), knob, sense and count."""
        there = {c.input for c in drive.program.contacts}
        bits = "".join(str(int(drive.contacts.get(n, False))) if n in there else "-" for n in BOUNCING)
        knob, sense = (
            str(value) if signal in drive.program.pins else "-"
            for signal, value in (("KNOB", drive.knob), ("SENSE", drive.sensed))
        )
        return f"{number} {bits} {knob} {sense} {drive.count}"

    def _taken_in_hand(self, receiver: Receiver, number: int, drive: BoardDrive) -> None:
        """What handsets press of a drive, and which of them has it in hand: it is let go once the drive rests."""
        pressed = receiver.pressed(number)
        drive.pressed = frozenset(pressed)
        moved_by = [hand for name, hand in pressed.items() if name in MOTION]
        panel = drive.panel
        if moved_by:
            drive.hand = max(moved_by)
        elif panel.machine.by_name[panel.mode].action not in ("forward", "back"):
            drive.hand = 0

    def _heard(self, hand: int) -> bool:
        return self.receiver is not None and self.receiver.heard[hand].joined

    def _told(self) -> dict[str, DriveReport]:
        """What every drive tells the others, as it stood after the last tick."""
        found = {}
        for drive in self.drives.values():
            panel = drive.panel
            mode = panel.machine.by_name[panel.mode]
            found[drive.program.id] = DriveReport(
                at_front=panel.is_pressed("limit_front"),
                at_back=panel.is_pressed("limit_back"),
                rests=mode.action not in ("forward", "back"),
                upset=mode.name in UPSET,
                touched=any(panel.is_pressed(n) or n in drive.pressed for n in HANDS),
            )
        return found

    def _state(self, drive: BoardDrive) -> str:
        panel = drive.panel
        level = panel.applied_level
        way = {"forward": 1, "back": -1}.get(panel.machine.by_name[panel.mode].action, 0)
        share = way * (level * 1000 // drive.program.settings.full)
        mode = "proving" if self.proving else panel.mode
        return f"{drive.program.number + self.shift} {mode} {share} {panel.rpm} {drive.count} {drive.bad}"

    def tick(
        self,
        contacts: Mapping[int, Mapping[str, bool]] = {},
        counts: Mapping[int, int] = {},
        knobs: Mapping[int, int] = {},
        sensed: Mapping[int, int] = {},
        plays: Mapping[int, bool] = {},
        tachos: Mapping[int, int] = {},
    ) -> list[str]:
        """A millisecond: contacts (true: pressed), counts, knob and sense readings by a drive's number, buttons of
        sequences by theirs, tachos; reports, framed."""
        self.ms += self.plan.tick_ms
        self.silent_ms = min(self.silent_ms + 1, self.plan.link_ms)
        silent = self.silent_ms >= self.plan.link_ms
        told = self._told()
        if self.receiver is not None:
            self.receiver.tick()
            for number, drive in self.drives.items():
                self._taken_in_hand(self.receiver, number, drive)
        placed = {s.program.id: s.placed for s in self.servos.values()}
        for number, was in self.held.items():
            # A button that is pressed as power comes begins nothing.
            now = bool(plays.get(number, False))
            if now and not was and self.ms > START_MS and not self.proving:
                self.player.play(number, False)
            self.held[number] = now
        self.player.tick(told, placed, silent)
        shut = locked(self.plan.guards, told, placed, self.plan.tick_ms)
        for sent in placed.values():
            sent.ticks += 1
        for number, drive in self.drives.items():
            order = self.player.orders.get(drive.program.id, 0)
            drive.count = counts.get(number, drive.count + drive.zero) - drive.zero
            drive.contacts, drive.knob = contacts.get(number, {}), knobs.get(number, 0)
            drive.sensed = sensed.get(number, 0)
            if self.proving:
                drive.panel.rest_at_start()
                drive.panel.debounced(drive.contacts)
                drive.now = drive.panel.nothing()
                continue
            if silent:
                drive.way, drive.goal = 0, None
            asked = {
                "forward": drive.way > 0 or order > 0,
                "back": drive.way < 0 or order < 0,
                "locked": drive.program.id in shut,
                "home": drive.home,
                "stop": drive.stop,
                "clear": self.clear,
                "link_lost": silent,
                "radio_lost": drive.hand > 0 and not self._heard(drive.hand),
            }
            if "knob_zero" in drive.program.machine.inputs:
                asked |= drive.panel.knob(knobs.get(number, 0))
            for name in drive.pressed:
                asked[name] = True
            drive.now = drive.panel.tick(
                drive.contacts, asked, drive.count, drive.sensed, drive.goal, tachos.get(number, 0)
            )
            drive.home = False
        self.clear = False
        if silent:
            for servo in self.servos.values():
                if servo.placed.by_port:
                    servo.place = None
        if self.report_ms and self.ms % self.report_ms == 0:
            return [framed(f"at {self.ms} {self._state(d)}") for d in self.drives.values()]
        return []
