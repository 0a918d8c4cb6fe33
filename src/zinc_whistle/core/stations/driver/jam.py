"""What acts in a jam, and whether winding and driver bear the stall until it has.

The duty stays as it was when the shaft stopped, so the motor carries D times its stall current and the source D times
that: a fuse sees less than the motor. A closed loop drives to full duty; a knob or the port may stand anywhere.
"""

from __future__ import annotations

from dataclasses import dataclass

from ...algebra.findings import Remedy
from ...algebra.limits import Check, Judge, claim, upper
from ...algebra.nodes import Constant, Leaf, Node, Varied, presence
from ...cases import frame
from ...cases.axes import JAM_DUTY, WINDING
from ...cases.driving import Driving
from ...cases.operating import Context, DriveContext, LoadContext
from ...laws import driver as driver_laws
from ...laws import fuse as fuse_laws
from ...laws import motor as motor_laws
from ...laws import stage as stage_laws
from .telling import STATION

ALL, NONE = Constant("100 %", 1.0, "fraction"), Constant("0 %", 0.0, "fraction")


@dataclass(frozen=True, slots=True, kw_only=True)
class Jam:
    """The currents of a jam, whatever the supply and winding, and what is borne for good."""

    motor: Node
    source: Node
    winding_bears: Node
    driver_bears: Node
    because: tuple[Leaf, ...]


def currents(at: Context, driving: Driving) -> Jam:
    """What a jam draws through motor and source."""
    spec, part = at.drive.motor, driving.part
    because = (
        at.unit.chosen("jam_stop"),
        at.unit.chosen("made_of"),
        at.drive.loop.chosen("closed"),
        *at.drive.setting(),
    )
    duty: Node
    if at.drive.closes_loop or not at.drive.signals.pulsed:
        duty = ALL
    elif at.drive.sets_speed:
        duty = Varied(JAM_DUTY, (ALL, NONE), "Duty in the jam")
    else:
        duty = stage_laws.within_period(driving.circuit.anywhere.duty)
    current = fuse_laws.jam_motor_current(duty, driving.circuit.anywhere.stall, because=because)
    return Jam(
        motor=current,
        source=fuse_laws.jam_source_current(duty, current, because=because),
        winding_bears=motor_laws.winding_allowed(
            spec.winding_limit.leaf,
            at.air,
            at.motor.resistance_25,
            frame.to_housing(spec),
            frame.to_air(spec),
        ),
        driver_bears=driver_laws.joined_current(part.continuous_a.leaf, at.drive.joined.leaf),
        because=because,
    )


def _borne(code: str, stress: Node, bound: Node) -> Check:
    return upper(code, station=STATION, title="Borne for good", stress=stress, bound=bound, todo="")


def _survived(at: Context, jam: Jam) -> Node:
    """How long the winding bears the jam, from cold or from its temperature at work."""
    spec = at.drive.motor
    start = Varied(WINDING, (at.build.ambient.cold.leaf, spec.winding_hot.leaf), "Winding, before")
    ohms = Varied(WINDING, (at.winding_cold, at.winding_hot), "Winding")
    return motor_laws.survivable_stall(
        m=frame.copper(spec), T_limit=spec.winding_limit.leaf, T_start=start, I_s=jam.motor, R=ohms
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Stop:
    """What is named as the stop: why it cannot act (empty: it can), and how long each is left with the current."""

    refusal: str = ""
    unknown: str = ""
    remedy: Remedy | None = None
    where: str
    winding: Node | None = None
    driver: Node | None = None


def _fuse(at: DriveContext, jam: Jam) -> _Stop:
    own = at.unit.stage.fuse if at.unit.made_of == "stage" else None
    curve = own.curve if own is not None else at.source.fuse_curve
    rated = own.rated_a.leaf if own is not None else at.source.fuse.leaf
    where = f"{at.unit.stage.path}.fuse" if own is not None else f"{at.source.path}.fuse_curve"
    if not curve:
        return _Stop(
            unknown="Not known yet: say of which kind the fuse is; its standard says when it opens.", where=where
        )
    law = fuse_laws.EXPOSED[curve]
    because = (*jam.because, at.source.chosen("fuse_curve"))

    def left(bears: Node) -> Node:
        return law(jam.source, rated, jam.motor, bears, because=because)

    return _Stop(where=where, winding=left(jam.winding_bears), driver=left(jam.driver_bears))


def typed_time_counts(at: DriveContext) -> bool:
    """Whether the time that the builder typed for the stop is what counts: a fuse and a program have their own."""
    return at.unit.jam_stop in ("driver limit", "cut-out")


def _program(at: DriveContext, jam: Jam, driving: Driving) -> _Stop:
    panel, unit = at.drive.panel, at.unit
    counts = at.drive.has_encoder and panel.watch == "yes"
    shunt = unit.made_of == "stage" and unit.stage.shunt.value is not None
    senses = driving.part.sense_gain.value is not None or shunt
    trips = senses and panel.trip == "yes"
    where = f"{panel.path}.watch" if counts or at.drive.has_encoder else f"{panel.path}.trip"
    if not at.drive.signals.by_program:
        return _Stop(
            refusal="No program watches this drive: name a fuse that opens in time, a cut-out in the motor's lead, or "
            "the driver's "
            "own limit.",
            where=f"{unit.path}.jam_stop",
        )
    if not counts and not trips:
        return _unseen(at, senses, where)
    because = (*jam.because, panel.chosen("watch"), panel.chosen("trip"))
    if (motor := at.drive.of_motor) is not None:
        because = (*because, motor.encoder.chosen("fitted"))
    if counts:
        time = panel.watch_time.leaf
        return _Stop(
            where=f"{panel.path}.watch_time",
            winding=fuse_laws.left_to_the_stop(time, jam.motor, jam.winding_bears, because=because),
            driver=fuse_laws.left_to_the_stop(time, jam.motor, jam.driver_bears, because=because),
        )
    where = f"{panel.path}.trip_a"
    if panel.trip_a.value is None:
        return _Stop(unknown="Not known yet: give the current above which the panel stops it.", where=where)

    time, limit, told = panel.trip_time.leaf, panel.trip_a.leaf, [*because, presence(panel.trip_a.leaf)]

    def left(bears: Node) -> Node:
        return fuse_laws.left_to_the_program(time, jam.motor, bears, limit, because=told)

    if motor is not None and motor.sets_speed and not motor.closes_loop:
        # Any duty may stand when it jams: the longest is then at no end of the range, and known without a search.
        stall = driving.circuit.anywhere.stall
        driver: Node = fuse_laws.longest_to_the_program(time, stall, jam.driver_bears, limit, because=told)
    else:
        driver = left(jam.driver_bears)
    return _Stop(where=where, winding=left(jam.winding_bears), driver=driver)


def _unseen(at: DriveContext, senses: bool, where: str) -> _Stop:
    """The program is to act in a jam, and nothing that it reads would make it."""
    panel = at.drive.panel
    if at.drive.has_encoder:
        return _Stop(
            refusal="Nothing tells the program of a jam: let its panel watch for the encoder's counts, or stop above a "
            "sensed current.",
            remedy=Remedy("The panel watches for counts", f"{panel.path}.watch", "yes"),
            where=where,
        )
    if senses:
        return _Stop(
            refusal="The program could tell a jam by the current, and does not act on it: let its panel stop above a "
            "current.",
            where=where,
        )
    return _Stop(
        refusal="Nothing tells the program of a jam: it needs an encoder or a sensed current, or else a fuse that "
        "opens in time.",
        where=f"{at.unit.path}.jam_stop",
    )


def _own_limit(at: DriveContext, jam: Jam, driving: Driving) -> _Stop:
    part, unit = driving.part, at.unit
    if part.trip == "none":
        return _Stop(
            refusal="This part has no limit of its own: name the fuse or the program.", where=f"{unit.path}.jam_stop"
        )

    def left(bears: Node) -> Node:
        return fuse_laws.left_to_the_trip(
            unit.jam_time.leaf,
            jam.motor,
            bears,
            driver_laws.joined_current(part.trip_a.leaf, at.drive.joined.leaf),
            because=(*jam.because, part.chosen("trip")),
        )

    return _Stop(where=f"{unit.path}.jam_time", winding=left(jam.winding_bears), driver=left(jam.driver_bears))


def _cut_out(at: DriveContext, jam: Jam) -> _Stop:
    """It sits in the motor's own lead, so it sees what the motor draws: a fuse at the source sees less."""
    unit = at.unit
    if unit.cutout_a.value is None:
        return _Stop(unknown="Not known yet: give the current at which it trips.", where=f"{unit.path}.cutout_a")

    def left(bears: Node) -> Node:
        return fuse_laws.left_to_the_trip(
            unit.jam_time.leaf,
            jam.motor,
            bears,
            unit.cutout_a.leaf,
            because=[*jam.because, presence(unit.cutout_a.leaf)],
        )

    return _Stop(where=f"{unit.path}.cutout_a", winding=left(jam.winding_bears), driver=left(jam.driver_bears))


def _none(at: DriveContext, jam: Jam, driving: Driving) -> _Stop:
    # Only what can see a jam is offered: a fuse may never open at its current.
    sees = not _program(at, jam, driving).refusal
    return _Stop(
        refusal="Name what stops the motor before driver and winding overheat: a fuse, the program, or the driver's "
        "own limit.",
        where=f"{at.unit.path}.jam_stop",
        remedy=Remedy("The program stops it", f"{at.unit.path}.jam_stop", "program") if sees else None,
    )


def _named(at: DriveContext, jam: Jam, driving: Driving) -> _Stop:
    if at.unit.jam_stop == "fuse":
        return _fuse(at, jam)
    if at.unit.jam_stop == "program":
        return _program(at, jam, driving)
    if at.unit.jam_stop == "cut-out":
        return _cut_out(at, jam)
    return _own_limit(at, jam, driving) if at.unit.jam_stop == "driver limit" else _none(at, jam, driving)


def _named_check(stop: _Stop, drive: str, title: str) -> Check:
    return claim(
        "driver.jam_named",
        station=STATION,
        title=title,
        holds=None if stop.unknown else not stop.refusal,
        todo=stop.refusal,
        unknown=stop.unknown,
        drive=drive,
        where=stop.where,
        remedy=stop.remedy,
    )


def _on_driver(stop: _Stop, driving: Driving, drive: str) -> list[Check]:
    if stop.driver is None:
        return []
    return [
        upper(
            "driver.jam_driver",
            station=STATION,
            title="Jam: time against the driver's peak",
            stress=stop.driver,
            bound=driving.part.peak_time.leaf,
            todo="Make the stop act sooner, or take a part that bears its peak for longer.",
            drive=drive,
            where=stop.where,
        )
    ]


def jam_on_driver(at: DriveContext, driving: Driving) -> list[Check]:
    """The named stop acts before the driver has borne the jam for too long: for a search, whatever else is so."""
    motor = at.of_motor
    if motor is None or at.unit.jam_stop == "none":
        return []
    return _on_driver(_named(motor, currents(motor, driving), driving), driving, at.drive.id)


def checks(at: DriveContext, driving: Driving, judge: Judge) -> list[Check]:
    """Something acts in a jam before winding or driver overheats; nothing is asked where both bear the stall."""
    motor = at.of_motor
    if motor is None:
        return []
    jam = currents(motor, driving)
    borne = {
        name: judge(_borne(name, jam.motor, bound)).verdict in ("holds", "tight")
        for name, bound in (("winding", jam.winding_bears), ("driver", jam.driver_bears))
    }
    if all(borne.values()):
        return []
    stop, drive = _named(motor, jam, driving), at.drive.id
    found: list[Check] = [_named_check(stop, drive, "Something acts in a jam")]
    if at.unit.jam_stop == "cut-out":
        found.append(
            upper(
                "driver.cutout_work",
                station=STATION,
                title="Current at work, against the cut-out",
                stress=motor.any_current,
                bound=at.unit.cutout_a.leaf,
                todo="It trips while all is well: take one for more current, if the winding bears that.",
                drive=drive,
                over="warn",
                where=f"{at.unit.path}.cutout_a",
                destructive=False,
            )
        )
    if not borne["driver"]:
        found += _on_driver(stop, driving, drive)
    if stop.winding is not None and not borne["winding"]:
        found.append(
            upper(
                "driver.jam_winding",
                station=STATION,
                title="Jam: time against the winding",
                stress=stop.winding,
                bound=_survived(motor, jam),
                todo="Make the stop act sooner: the winding is past its limit before it does.",
                drive=drive,
                where=stop.where,
            )
        )
    return found


def checks_of_load(at: LoadContext, driving: Driving, judge: Judge) -> list[Check]:
    """A pump that is blocked: its driver bears that, or something stops it. Nothing else here can be held."""
    blocked, part = at.load.blocked, driving.part
    if blocked is None:
        return []
    because = (at.unit.chosen("jam_stop"), at.unit.chosen("made_of"))
    bears = driver_laws.joined_current(part.continuous_a.leaf, at.drive.joined.leaf)
    if judge(_borne("driver", blocked, bears)).verdict in ("holds", "tight"):
        return []
    jam = Jam(motor=blocked, source=blocked, winding_bears=at.working_current, driver_bears=bears, because=because)
    stop = _named(at, jam, driving)
    return [
        _named_check(stop, at.drive.id, "Something acts when the pump is blocked"),
        *_on_driver(stop, driving, at.drive.id),
    ]
