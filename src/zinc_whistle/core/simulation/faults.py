"""Faults put into a run: what each does to the plant and to the schedule, and what one would see."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

from .engine import Phase
from .plant import WHEELS, Path, Plant

Fault = Literal[
    "none",
    "open diode",
    "missing ground",
    "swapped wires",
    "shoot-through",
    "stuck gate",
    "stuck contact",
    "slipping coupling",
]
FAULTS: dict[str, str] = {
    "none": "None",
    "open diode": "Flyback diode open",
    "missing ground": "No common ground",
    "swapped wires": "Motor's wires swapped",
    "shoot-through": "Both switches of a leg on at each edge",
    "stuck gate": "A gate stuck on",
    "stuck contact": "One contact stuck at the supply",
    "slipping coupling": "Coupling slips",
}
SHOOT_S = 300e-9
"""How long both switches are on at each edge: a missing dead time of a few hundred ns."""
SLIP_SHARE = 0.4
"""Of the working torque, what a slipping coupling still carries."""
SWAPPED: dict[Path, Path] = {"forward": "back", "back": "forward", "wheel": "wheel back", "wheel back": "wheel"}


@dataclass(frozen=True, slots=True)
class Faulty:
    """A plant and a schedule with the fault in them, and what to know of it."""

    plant: Plant
    schedule: list[Phase]
    note: str


Contacts = Literal["none", "before a switch", "alone"]
"""Whether contacts turn the motor round, with a transistor behind them that can end its current or without one."""


def put_in(
    fault: Fault,
    plant: Plant,
    schedule: Sequence[Phase],
    rotor_inertia: float | None,
    contacts: Contacts = "none",
) -> Faulty:
    """A run's plant and schedule with a fault. ValueError with a sentence where this drive cannot have it."""
    phases = list(schedule)
    if fault == "open diode":
        if not any(_by_diode(p.off) or _by_diode(p.on) for p in phases):
            raise ValueError(
                "In this drive mode the current goes round through the switches: no diode has to carry it."
            )
        return Faulty(
            plant,
            [replace(p, on=_cut(p.on), off=_cut(p.off)) for p in phases],
            "Each turn-off tears the current to nothing: its energy ½LI² breaks down the switch (avalanche).",
        )
    if fault == "missing ground":
        return Faulty(
            plant,
            [replace(p, on="off", off="off") for p in phases],
            (
                "The driver sees no level against its own ground: nothing moves. A "
                "current may go back through a signal wire."
            ),
        )
    if fault == "swapped wires":
        return Faulty(
            plant,
            [replace(p, on=SWAPPED.get(p.on, p.on), off=SWAPPED.get(p.off, p.off)) for p in phases],
            "Everything looks right but the direction: with an encoder in a closed loop it runs away.",
        )
    if fault == "shoot-through":
        if any(p.off in WHEELS for p in phases):
            raise ValueError("This stage has one switch: there is no leg to short.")
        short = [
            replace(p, shoot_s=min(SHOOT_S, p.duty * p.period_s / 2, (1 - p.duty) * p.period_s / 2)) for p in phases
        ]
        return Faulty(
            plant,
            [p if p.averaged else s for p, s in zip(phases, short, strict=True)],
            f"The supply is shorted for {SHOOT_S * 1e9:.0f} ns at each edge: the bus "
            "dips, and the switches heat without load. "
            "Look at every pulse: the averaged run does not show it.",
        )
    if fault == "stuck gate":
        return Faulty(
            plant,
            [replace(p, duty=1.0, on="forward", off="forward") for p in phases],
            "Full duty whatever the program says: neither ramp nor stop works. Only cutting the supply does.",
        )
    if fault == "stuck contact":
        return _stuck_contact(plant, phases, contacts)
    if fault == "slipping coupling":
        if not rotor_inertia:
            raise ValueError("Not known yet: the rotor's own inertia.")
        carried = SLIP_SHARE * (plant.coulomb_nm + plant.load_nm)
        return Faulty(
            replace(plant, inertia=rotor_inertia, coulomb_nm=carried, stiction_nm=carried, load_nm=0.0),
            phases,
            (
                f"The motor turns its own rotor and the slipping torque ({SLIP_SHARE:.0%} of "
                "the working one); the load stays behind."
            ),
        )
    return Faulty(plant, phases, "")


def _stuck_contact(plant: Plant, phases: list[Phase], contacts: Contacts) -> Faulty:
    """The second end's contact has welded at the supply: forward both ends stand there; released, the other one does
    not."""
    if contacts == "none":
        raise ValueError("No contacts turn this motor round: none can stick.")
    turned: dict[Path, Path] = {"forward": "short"}
    note = (
        "Forward both ends stand at the supply and nothing moves. Released, it runs back by itself and nothing stops "
        "it: only cutting the supply does."
    )
    if contacts == "before a switch":
        turned |= {"wheel": "short", "short": "wheel back"}
        note = (
            "Forward both ends stand at the supply line: the motor is shorted and does not move; back it runs as ever. "
            "The transistor still stops it."
        )
    else:
        turned |= dict.fromkeys(("short", "off", "wheel", "wheel back"), "back")
    return Faulty(plant, [replace(p, on=turned.get(p.on, p.on), off=turned.get(p.off, p.off)) for p in phases], note)


def _by_diode(path: Path) -> bool:
    return path in WHEELS or path == "off"


def _cut(path: Path) -> Path:
    return "cut" if _by_diode(path) else path
