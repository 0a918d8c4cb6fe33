"""The parts of the MicroPython program that are the same for every build: contacts, encoder, drive, servo.

Written as MicroPython, so that it reads as such; only ``$names`` are filled in.
"""

from __future__ import annotations

HEAD = """\
# $build: $controller
#
# Written by Zinc Whistle from the design's own numbers; each one tells where it comes from. Make it anew after a change
# of the design: what stands between "yours" and "end of yours" is kept.
#
# A stop in this program does not cut power. What can hurt somebody needs a switch that does, and a fuse at the battery.
# Local codes come first; ask a qualified person where they apply.
#
# Pins:
$pins
import time

from machine import ADC, PWM, UART, WDT, Pin

# yours: imports and variables
# end of yours: imports and variables

TICK_MS = $tick  # a round of this program
LINK_TICKS = $link  # silence of the serial port that stops
ONE = $one  # a level of one step, in the fine units of the ramp
FINE = $fine  # gains are kept in 1/256 of their unit
SPEED_FINE = $speed_fine  # a level's speed is kept in 1/65536 rpm
KNOB_LOST, KNOB_ZERO, KNOB_TOP = $knob_lost, $knob_zero, $knob_top  # of 1023; resistors at both ends keep it between

port = UART(0, 38400)
"""

RUNTIME = '''\


def toward_zero(a, b):
    """A quotient towards zero."""
    return a // b if a >= 0 else -(-a // b)


class Contact:
    """A button or switch: it counts once it has stayed for the debounce time."""

    def __init__(self, pin, pressed, pull, ticks):
        self.pin = Pin(pin, Pin.IN, pull)
        self.pressed, self.ticks, self.since = pressed, ticks, 0
        self.steady = self.pin.value() == pressed

    def read(self):
        now = self.pin.value() == self.pressed
        if now == self.steady:
            self.since = 0
        else:
            self.since += 1
            if self.since >= self.ticks:
                self.steady, self.since = now, 0
        return self.steady


class Encoder:
    """Counts every change of A and B by a table; both at once means that a count was lost. One sensor alone counts
    along the way that was driven last."""

    def __init__(self, a, b, turns):
        self.pins, self.turns = [Pin(p, Pin.IN, Pin.PULL_UP) for p in (a, b) if p is not None], turns
        self.way = 1 if b is None else 0
        self.count = self.bad = 0
        self.last = self.read()
        for pin in self.pins:
            pin.irq(self.turn, Pin.IRQ_RISING | Pin.IRQ_FALLING)

    def read(self):
        return self.pins[0].value() << 1 | (self.pins[1].value() if len(self.pins) > 1 else 0)

    def turn(self, _):
        now = self.read()
        step = self.turns[self.last << 2 | now]
        if step == $illegal:
            self.bad += 1
        else:
            self.count += step * self.way if self.way else step
        self.last = now


class Pulses:
    """A pin that is low, high, or carries pulses."""

    def __init__(self, pin, frequency):
        self.pin, self.frequency, self.pwm = Pin(pin, Pin.OUT, value=0), frequency, None
        self.number = pin

    def level(self, of_65535):
        if self.pwm is None:
            self.pwm = PWM(self.pin, freq=self.frequency, duty_u16=of_65535)
        else:
            self.pwm.duty_u16(of_65535)

    def still(self, value):
        if self.pwm is not None:
            self.pwm.deinit()
            self.pwm = None
            self.pin = Pin(self.number, Pin.OUT, value=value)
        self.pin.value(value)


class Drive:
    """A drive: its machine, its ramp, its driver's lines."""

    actions, targets = {}, {}
    full = most = 65535
    coils_of, coil_ticks = {}, 0
    by_port = two_way = homes = moves = watches = False
    wanted = ramp_step = pause_ticks = watch_ticks = offset = homing = 0
    trip = trip_sum = milliamps = 0
    hold_ticks = 1
    ends = None
    lamps = ()
    watch_from = 1
    loop_ticks = rpm_per_count = rpm_drop = gain = each_adds = 0
    rpm_per_level = 1
    slow_within = creep = 0  # counts, and the level of a move after its first crossing
    encoder = knob = sense = tacho = None

    def __init__(self):
        self.mode, self.homed, self.coils = "waiting", False, 0
        self.way, self.goal, self.home, self.stop, self.open_loop = 0, None, False, False, False
        self.level = self.level_fine = 0
        self.rest = self.quiet = self.settled = self.still_for = self.loop = 0
        self.loop_count = self.last_count = self.rpm = self.integral = self.bound = 0
        self.over = self.sensed = self.turned = self.peak = self.peak_before = self.peak_for = 0
        self.last_action = "off"
        self.told_speed, self.driven = 0, 1  # a tacho's reading, and the way that was driven last
        self.order, self.locked, self.hand = 0, False, 0
        self.at_front = self.at_back = self.touched = False
        self.bound_for, self.near_goal = 0, None  # from which side a move goes for its place; 0 once it has crossed it

    def rests(self):
        return self.actions[self.mode] not in ("forward", "back")

    def upset(self):
        """It takes no orders."""
        return self.mode in ("waiting", "stopped", "failed")

    def count(self):
        return self.encoder.count if self.encoder else 0

    def turn_knob(self, on):
        self.turned = scaled = self.knob.read_u16() >> 6
        span = KNOB_TOP - KNOB_ZERO
        self.wanted = min(max(scaled - KNOB_ZERO, 0), span) * self.full // span
        on["knob_zero"] = scaled <= KNOB_ZERO
        on["knob_lost"] = scaled < KNOB_LOST or scaled > 1023 - KNOB_LOST

    def measure(self, count):
        """The speed, once a control period; gives whether it is a new one."""
        if not self.loop_ticks:
            return False
        self.loop += 1
        if self.loop < self.loop_ticks:
            return False
        change = self.told_speed * self.driven if self.tacho else count - self.loop_count
        self.rpm = toward_zero(change * self.rpm_per_count, FINE)
        self.loop_count, self.loop = count, 0
        return True

    def coils_ready(self, action):
        """Relay coils change only after pulses were off, and pulses wait for the bounce."""
        wanted = self.coils_of[action]
        self.quiet = 0 if self.level_fine else min(self.quiet + 1, self.coil_ticks)
        self.settled = min(self.settled + 1, self.coil_ticks)
        if wanted != self.coils and self.quiet >= self.coil_ticks:
            self.coils, self.settled = wanted, 0
        return wanted == self.coils and self.settled >= self.coil_ticks

    def applied(self, action, fresh):
        level = self.level_fine // ONE
        if not level or not self.gain or self.open_loop:
            self.integral = self.bound = 0
        if not level:
            return 0
        made = self.offset + level * (self.full - self.offset) // self.full
        if self.gain and not self.open_loop:
            wants = max(level * self.rpm_per_level // SPEED_FINE - self.rpm_drop, 0)
            error = wants - (self.rpm if action == "forward" else -self.rpm)
            # While the level is at its end the integral stands still, unless the error leads it away from there.
            if fresh and (not self.bound or (error < 0) == (self.bound > 0)):
                most = self.full * FINE
                self.integral = min(max(self.integral + error * self.each_adds, -most), most)
            made += toward_zero(error * self.gain, FINE) + toward_zero(self.integral, FINE)
            self.bound = (made > self.most) - (made < 0)
        return min(max(made, 0), self.most)

    def near(self, count):
        """The level that is wanted: on a move it may fall as its place comes near."""
        if self.goal != self.near_goal:
            self.bound_for = 0 if self.goal is None else 1 if self.goal > count else -1
            self.near_goal = self.goal
        if self.goal is None or not self.creep:
            return self.wanted
        left = self.goal - count
        if left * self.bound_for <= 0:
            self.bound_for = 0
        made = self.wanted if self.bound_for else self.creep
        if self.bound_for and abs(left) < self.slow_within:
            made = max(self.wanted * abs(left) // self.slow_within, self.creep)
        return min(made, self.wanted)

    def gains(self, given):
        """Gains of the loop, as this program counts them: told, or others taken until power goes."""
        if not self.gain:
            return "no loop"
        if given:
            if not 1 <= given[0] <= $most_gain or not 0 <= given[1] <= $most_gain:
                return "no range"
            self.gain, self.each_adds = given
        return "ok %s %d %d %d" % ("tune" if given else "gains", self.number + SHIFT, self.gain, self.each_adds)

    def rest_at_start(self):
        """As power comes: nothing homed, nothing driven."""
        self.mode, self.homed, self.coils = "waiting", False, 0
        self.level = self.level_fine = self.rest = self.quiet = self.settled = self.still_for = self.over = 0
        self.peak = self.peak_before = self.peak_for = self.integral = self.bound = 0

    def light(self, on):
        """Which state lights which lamp; without inputs all are dark."""
        for lamp, modes, held, blinks in self.lamps:
            lit = on is not None and (self.mode in modes or (self.homed if held == "homed" else on.get(held, False)))
            lamp.value(1 if lit and not (blinks and Wire.now_ms & $blink) else 0)

    def prove(self):
        """Everything off, inputs read."""
        self.rest_at_start()
        self.read()
        self.read_sense()
        self.write("off", 0)
        self.light(None)

    def read_sense(self):
        # As many readings as a round has ms: most of them fall between the pulses.
        if self.tacho:
            self.told_speed = self.tacho.read_u16() >> 6
        self.sensed = max(self.sense.read_u16() for _ in range(TICK_MS)) >> 6 if self.sense else 0

    def sum_up(self):
        """How far too much the current was, and for how long: the highest reading of the last rounds counts."""
        self.peak = max(self.peak, self.sensed)
        held = max(self.peak, self.peak_before)
        self.peak_for += 1
        if self.peak_for >= self.hold_ticks:
            self.peak_before, self.peak, self.peak_for = self.peak, 0, 0
        self.over = min(max(self.over + toward_zero(held * held - self.trip * self.trip, $trip_fine), 0), self.trip_sum)

    def tick(self, clear, silent):
        count = self.count()
        fresh = self.measure(count)
        on = self.read()
        self.read_sense()
        by_hand(self, on)
        self.at_front, self.at_back = on.get("limit_front", False), on.get("limit_back", False)
        self.touched = any(on.get(n, False) for n in ("forward", "back", "run_forward", "run_back", "home"))
        on["forward"] = on.get("forward", False) or self.way > 0 or self.order > 0
        on["back"] = on.get("back", False) or self.way < 0 or self.order < 0
        on["locked"] = self.locked
        on["home"] = on.get("home", False) or self.home
        on["stop"] = on.get("stop", False) or self.stop
        on["clear"] = on.get("clear", False) or clear
        on["link_lost"] = silent
        wanted = self.near(count)
        on["ahead"] = self.goal is not None and self.goal - count > $window
        on["behind"] = self.goal is not None and count - self.goal > $window
        on["still"] = self.level_fine == 0
        on["rested"] = self.rest >= self.pause_ticks
        if self.trip:
            self.sum_up()
        on["over"] = self.trip > 0 and self.over >= self.trip_sum
        on["end_back"] = self.ends is not None and count <= self.ends[0]
        on["end_front"] = self.ends is not None and count >= self.ends[1]
        on["stuck"] = self.watches and self.still_for >= self.watch_ticks
        self.mode = self.next(on)
        self.home = False

        action, target = self.actions[self.mode], self.targets[self.mode]
        driving = action in ("forward", "back")
        if driving:
            self.driven = 1 if action == "forward" else -1
        if driving and self.encoder and self.encoder.way:
            self.encoder.way = self.driven
        self.rest = 0 if driving else min(self.rest + 1, self.pause_ticks)
        ready = not self.coil_ticks or self.coils_ready(action)
        if target == "cut" or not ready:
            self.level_fine = 0
        else:
            goal = wanted if target == "wanted" else (self.homing or self.wanted) if target == "slow" else 0
            left = goal * ONE - self.level_fine
            self.level_fine += max(min(left, self.ramp_step), -self.ramp_step)
        if not driving:
            self.integral = self.bound = 0
        self.level = self.applied(action, fresh) if driving else 0
        self.still_for = self.still_for + 1 if self.level >= self.watch_from and count == self.last_count else 0
        self.last_count = count
        self.write(action, self.level)
        self.light(on)

    def inputs(self):
        """Contacts as they stand, knob, sense and count."""
        bits = ["-"] * len(CONTACTS)
        for name, contact in self.contacts.items():
            bits[CONTACTS.index(name)] = "1" if contact.pin.value() == contact.pressed else "0"
        knob, sense = self.turned if self.knob else "-", self.sensed if self.sense else "-"
        return "%d %s %s %s %d" % (self.number + SHIFT, "".join(bits), knob, sense, self.count())

    def state(self):
        way = {"forward": 1, "back": -1}.get(self.actions[self.mode], 0)
        share = way * (self.level * 1000 // self.full)
        bad = self.encoder.bad if self.encoder else 0
        mode = "proving" if Wire.proving else self.mode
        return "%d %s %d %d %d %d" % (self.number + SHIFT, mode, share, self.rpm, self.count(), bad)

    def side(self, sign):
        """Its count, ahead positive, and its current."""
        amps = self.sensed * self.milliamps // FINE if self.sense else "-"
        return "%s %s" % (self.count() * sign if self.encoder else "-", amps)

    def command(self, word, x):
        if not self.by_port:
            return "no panel"
        if word == "speed" and not self.loop_ticks:
            return "no encoder"
        if not -30000 <= x <= 30000 or (word == "duty" and not -1000 <= x <= 1000):
            return "no range"
        if x < 0 and not self.two_way:
            return "no way back"
        size = abs(x)
        level = size * self.full // 1000
        if word == "speed" and x:
            level = (size + self.rpm_drop) * SPEED_FINE // self.rpm_per_level
        self.way = (x > 0) - (x < 0)
        if self.way:
            self.wanted, self.open_loop = min(level, self.full), word == "duty"
        self.goal = None
        return "ok " + word

    def counts(self):
        if not self.encoder:
            return "no encoder"
        return "ok counts %d %d %d" % (self.number + SHIFT, self.count(), self.encoder.bad)

    def zero(self):
        """The counter is set to zero where it stands; what was homed to another zero is homed no more."""
        if not self.encoder:
            return "no encoder"
        self.encoder.count = self.loop_count = self.last_count = 0
        self.homed, self.goal = False, None
        return "ok zero"

    def move(self, by):
        goal = self.count() + by
        if not self.moves:
            return "no moves"
        if self.ends is None and not self.homed:
            return "no home yet"
        if self.ends is not None and not self.ends[0] <= goal <= self.ends[1]:
            return "no range"
        self.goal, self.way = goal, 0
        return "ok move"

    def position(self, word, x):
        if not self.homes or (word == "go" and not self.moves):
            return "no homing"
        if word == "home" and not self.by_port:
            return "no panel"
        if word == "go" and not self.homed:
            return "no home yet"
        self.home, self.goal, self.way = word == "home", x if word == "go" else None, 0
        return "ok " + word


class Servo:
    """A servo: no pulses until it is told a place."""

    def __init__(self, number, pin, frequency, low, high, knob=None):
        self.number, self.low, self.high = number, low, high
        self.pulses, self.place, self.ticks, self.by_port = Pulses(pin, frequency), None, 0, False
        self.knob = None if knob is None else ADC(Pin(knob))
        self.turned, self.follows = 0xFFFF, True

    def look(self):
        # A knob is followed; after an order it takes over again once it is moved. A wire off is not believed.
        reading = self.knob.read_u16() >> 6
        if not KNOB_LOST <= reading <= 1023 - KNOB_LOST:
            return
        if abs(reading - self.turned) <= ($still if self.follows else $moved):
            return
        above = min(max(reading - KNOB_ZERO, 0), KNOB_TOP - KNOB_ZERO)
        self.turned, self.follows, self.by_port = reading, True, False
        self.move(above * 1000 // (KNOB_TOP - KNOB_ZERO))

    def go(self, place):
        if self.knob is not None:
            self.turned, self.follows = self.knob.read_u16() >> 6, False
        self.move(place)

    def move(self, place):
        self.place, self.ticks = place, 0
        if place is None:
            self.pulses.still(0)
        else:
            self.pulses.level(self.low + place * (self.high - self.low) // 1000)

    def answer(self, word, x):
        if word == "status":
            return "ok status %d %s %d 0 0 0" % (self.number + SHIFT, "off" if self.place is None else "on", self.place or 0)
        if word != "duty":
            return "no servo"
        if Wire.proving:
            return "no output"
        if not 0 <= x <= 1000:
            return "no range"
        self.go(x)
        self.by_port = True
        return "ok duty"
'''

OWN = """\


# yours: start, every round, and commands of your own
def own_start():
    pass


def own_tick():
    pass


def own_command(text):
    return ""  # a reply of yours, or nothing


# end of yours: start, every round, and commands of your own
"""
