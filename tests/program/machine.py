"""A thin stand-in for the interpreter's own pins, pulses and port, in MicroPython: it records what is done to them.

``levels`` holds what comes from outside; ``events`` what the program did: (pin, level) or (pin, "pwm", frequency,
duty).
"""

levels = {}
volts = {}
events = []
pwm = {}
handlers = {}
sent = []
coming = []


class Pin:
    IN, OUT, PULL_UP, PULL_DOWN, IRQ_RISING, IRQ_FALLING = range(6)

    def __init__(self, number, mode=None, pull=None, value=None):
        self.number, self.pull = number, pull
        if value is not None:
            self.value(value)

    def value(self, to=None):
        if to is None:
            return levels.get(self.number, 1 if self.pull == Pin.PULL_UP else 0)
        if levels.get(self.number) != to:
            events.append((self.number, to))
        levels[self.number] = to
        return None

    def irq(self, handler, trigger):
        handlers[self.number] = handler


class PWM:
    def __init__(self, pin, freq, duty_u16):
        self.number, self.frequency = pin.number, freq
        self.duty_u16(duty_u16)

    def duty_u16(self, duty):
        pwm[self.number] = (self.frequency, duty)
        events.append((self.number, "pwm", self.frequency, duty))

    def deinit(self):
        pwm.pop(self.number, None)


class ADC:
    def __init__(self, pin):
        self.number = pin.number

    def read_u16(self):
        return volts.get(self.number, 0)


class UART:
    def __init__(self, number, baud):
        self.baud = baud

    def any(self):
        return len(coming)

    def read(self):
        data = bytes(coming)
        coming.clear()
        return data

    def write(self, text):
        sent.append(text)


class WDT:
    def __init__(self, timeout):
        pass

    def feed(self):
        pass


def edge(number, value):
    """A change on an input, with its interrupt."""
    levels[number] = value
    if number in handlers:
        handlers[number](None)
