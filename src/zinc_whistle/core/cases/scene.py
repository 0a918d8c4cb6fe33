"""Every drive of a build with its cases solved, all of them together: what the stations look at.

Physics is cyclic (a ramp decides the peak, the wire's drop decides the motor's volts, every drive weighs on one
source),
so this stands before the stations. It is worked out once an assessment, in the order in which one thing rests on
another.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from ..algebra.findings import Finding
from ..algebra.limits import Check, Judge
from ..algebra.nodes import Figure, Node
from ..laws import supply as supply_laws
from ..model.build import Build, Drive, LoadDrive, MotorDrive, ServoDrive
from ..model.given import Given, bind
from ..model.reading import Reading
from ..model.signals import Controller
from . import board_pins, encoder, servo, shared_supply, stage
from .circuit import Circuit, DriveCircuit, solve
from .demand import Demand
from .driving import Driving, heat_of
from .encoder import EncoderResult
from .motor import AtSupply, at_supply
from .netlist import Netlist, netlist
from .netlist.of_drive import of_driven, of_servo
from .operating import Context, DriveContext, LoadContext, contexts, servo_rail
from .pins import PinUse, allot, needed, on_board, play_buttons
from .pulses import PULSE, PulsePlan, pulses
from .servo import ServoResult
from .shared_supply import SharedSupply
from .wires.rows import DriveWires, wires
from .wires.servo_rows import ServoWires, servo_wires


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """A measured or tuned given, and the figure that it stands on: it goes stale with that."""

    given: Given
    on: Node


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What one station makes of a drive: its results by name, its checks, and its givens that can go stale."""

    results: Mapping[str, Any] = field(default_factory=dict)
    checks: Sequence[Check | Finding] = ()
    standing: Mapping[str, Standing] = field(default_factory=dict)
    """By the path of the given."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Scene:
    """One drive, whatever it is, in its build."""

    build: Build
    drive: Drive
    controller: Controller
    supply: SharedSupply
    demands: tuple[Demand, ...]
    pins: tuple[PinUse, ...]
    netlist: Netlist
    readings: tuple[Reading, ...]
    judge: Judge

    @property
    def driven(self) -> DrivenScene | None:
        """This scene, if a driver switches the drive."""
        return None


@dataclass(frozen=True, slots=True, kw_only=True)
class DrivenScene(Scene):
    """A drive that has a driver."""

    at: DriveContext
    circuit: DriveCircuit
    driving: Driving | None
    wires: DriveWires

    @property
    def driven(self) -> DrivenScene:
        return self

    @property
    def logic_named(self) -> bool:
        """Whether anything is named that feeds the controller."""
        return bool(self.at.controller.regulator)

    @property
    def logic_needs(self) -> Figure | None:
        """What the first regulator on the controller's way needs at its input; None where none is named."""
        if self.at.regulator is None:
            on_source = self.at.controller.regulator == self.at.source.id
            return supply_laws.step_up_needs(self.at.controller.vin_min.leaf) if on_source else None
        found = self.supply.regulator(self.build.supply.chain(self.at.regulator.id)[0].id)
        return found.needs if found is not None else None


@dataclass(frozen=True, slots=True, kw_only=True)
class MotorScene(DrivenScene):
    """A motor's drive."""

    drive: MotorDrive
    at: Context
    circuit: Circuit
    at_supply: AtSupply
    counts: EncoderResult


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadScene(DrivenScene):
    """A solenoid, a pump or a lamp."""

    drive: LoadDrive
    at: LoadContext


@dataclass(frozen=True, slots=True, kw_only=True)
class ServoScene(Scene):
    """A hobby servo."""

    drive: ServoDrive
    servo: ServoResult
    wires: ServoWires


@dataclass(frozen=True, slots=True)
class Scenes:
    """All drives of a build, and the supply with all of them on it."""

    supply: SharedSupply
    demands: tuple[Demand, ...]
    drives: dict[str, Scene]
    netlist: Netlist


@dataclass(frozen=True, slots=True)
class _Ready:
    """A drive with what drives it: what the supply must know before all stand together."""

    at: DriveContext
    circuit: DriveCircuit
    driving: Driving | None


def scenes(build: Build, readings: Sequence[Reading], judge: Judge) -> Scenes:
    """Solve every drive of a bound build, then the supply with all of them on it."""
    planned = pulses(build)
    ready = {id: _ready(at) for id, at in contexts(build, planned).items()}
    servos = {d.id: servo.compute(d.servo, *servo_rail(build, d), planned.plans[d.id]) for d in build.servos}
    pins = _pins(build, ready, planned)
    demands = (*(_demand(r) for r in ready.values()), *_servo_demands(build, servos))
    together = shared_supply.compute(build, demands)
    # A controller's other devices are told once, with its first drive that has a driver.
    first = {d.controller: d.id for d in reversed(build.driven) if d.signals.by_program}
    controllers = {d.id: ready[d.id].at.controller if d.id in ready else _controller(build, d) for d in build.drives}
    held = {
        d.id: (*pins.get(d.id, ()), *(pins[on_board(at)] if first.get(at.id) == d.id else ()))
        for d in build.drives
        if (at := controllers[d.id])
    }
    driven_wires = {id: wires(r.at, r.circuit, held[id]) for id, r in ready.items()}
    of_servos = {d.id: servo_wires(d, controllers[d.id], servos[d.id], held[d.id]) for d in build.servos}
    harnesses = (
        of_driven(ready[d.id].at, driven_wires[d.id], held[d.id])
        if d.of_servo is None
        else of_servo(build, d.of_servo, controllers[d.id], of_servos[d.id], held[d.id])
        for d in build.drives
    )
    joined = netlist(build, harnesses)
    found: dict[str, Scene] = {}
    for drive in build.drives:
        common: dict[str, Any] = {
            "build": build,
            "drive": drive,
            "controller": controllers[drive.id],
            "supply": together,
            "demands": demands,
            "pins": held[drive.id],
            "netlist": joined,
            "readings": tuple(r for r in readings if r.drive == drive.id and not r.withdrawn),
            "judge": judge,
        }
        if drive.of_servo is not None:
            found[drive.id] = ServoScene(**common, servo=servos[drive.id], wires=of_servos[drive.id])
        else:
            found[drive.id] = _driven_scene(ready[drive.id], common | {"wires": driven_wires[drive.id]})
    return Scenes(together, demands, found, joined)


def _driven_scene(ready: _Ready, common: dict[str, Any]) -> DrivenScene:
    at, circuit = ready.at, ready.circuit
    common |= {"at": at, "circuit": circuit, "driving": ready.driving}
    motor, turning = at.of_motor, circuit.of_motor
    if motor is not None and turning is not None:
        here = at_supply(motor.drive.motor, motor.motor, at.volts.nominal, "supply nominal, 25 °C")
        return MotorScene(**common, at_supply=here, counts=encoder.compute(motor, turning))
    return LoadScene(**common)


def _ready(at: DriveContext) -> _Ready:
    """A drive with what drives it worked out: a part of the shelf, or the unit's own stage."""
    if at.unit.made_of == "stage":
        built = stage.evaluate(at)
        return _Ready(replace(at, part=built.part), built.circuit, built)
    circuit = solve(at, at.part)
    driving = (
        Driving(part=at.part, circuit=circuit, heat=heat_of(at, at.part, circuit)) if at.part is not None else None
    )
    return _Ready(at, circuit, driving)


def _demand(ready: _Ready) -> Demand:
    at, circuit = ready.at, ready.circuit
    mean: Figure = circuit.source_current
    if (motor := at.of_motor) is not None:
        mean = supply_laws.mean_of_energy(motor.load.cycle_energy, motor.load.cycle_time, at.volts.nominal)
    return Demand(
        drive=at.drive.id,
        name=at.drive.name,
        feed=at.source.id,
        mean=mean,
        # A motor hangs on a source, never on a regulator: nothing is warmed by it.
        warming=circuit.source_current,
        working=circuit.source_current,
        starting=circuit.source_start,
        worst=circuit.stall_full,
        any_working=circuit.anywhere.source_current,
        any_starting=circuit.anywhere.source_start,
        any_worst=circuit.anywhere.stall,
    )


def _servo_demands(build: Build, servos: Mapping[str, ServoResult]) -> list[Demand]:
    return [
        Demand(
            drive=d.id,
            name=d.name,
            feed=d.rail,
            mean=servos[d.id].mean_current,
            warming=servos[d.id].warming_current,
            working=servos[d.id].moving_current,
            starting=servos[d.id].moving_current,
            worst=servos[d.id].stall_current,
            any_working=servos[d.id].moving_current,
            any_starting=servos[d.id].moving_current,
            any_worst=servos[d.id].any_stall,
        )
        for d in build.servos
    ]


def _pins(build: Build, ready: Mapping[str, _Ready], planned: PulsePlan) -> dict[str, tuple[PinUse, ...]]:
    """Pins of every drive, controller by controller."""
    found: dict[str, tuple[PinUse, ...]] = {}
    programmed = [d for d in build.drives if d.driven is None or d.driven.signals.by_program]
    for name in {d.controller: None for d in programmed}:
        drives = [d for d in programmed if d.controller == name]
        wants = {d.id: needed(ready[d.id].at) if d.id in ready else _of_servo(build, d) for d in drives}
        at = _controller(build, drives[0])
        boards = {d.id: board_pins.fixed(build, d, at) for d in drives}
        found |= allot(at, drives, wants, planned.plans, boards, board_pins.taken(build, drives, at))
    return found


def _of_servo(build: Build, drive: Drive) -> list[tuple[str, str]]:
    """What a servo asks of its controller: its pulse, and the buttons of the sequences that begin with it."""
    servo = drive.of_servo
    knob = [("KNOB", "analogue")] if servo is not None and servo.servo.knob == "yes" else []
    return [(PULSE, "pwm"), *knob, *((signal, "digital") for signal in play_buttons(build, drive.id))]


def _controller(build: Build, drive: Drive) -> Controller:
    found = next((c for c in build.controllers if c.id == drive.controller), None)
    if found is None:
        found = Controller(id="none")
        bind(found, "controllers.none")
    return found
