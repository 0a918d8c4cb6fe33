"""Wiring: a large board's pins, and the netlist with its review and lists."""

from __future__ import annotations

from benchmarks.loops import best_ms

from zinc_whistle.core.algebra.limits import Judge
from zinc_whistle.core.assess import assess
from zinc_whistle.core.cases.axes import AXES
from zinc_whistle.core.cases.netlist import DriveHarness, netlist
from zinc_whistle.core.cases.netlist.of_drive import of_driven, of_servo
from zinc_whistle.core.cases.pins import _matched
from zinc_whistle.core.cases.scene import Scene, ServoScene
from zinc_whistle.core.design.board import board_plan
from zinc_whistle.core.model.signals import Pin
from zinc_whistle.core.stations.wiring import review
from zinc_whistle.demo.data import cider_stirrer, puppet_stage

PINS, DEMANDS = 60, 40
NEEDS = ("digital", "interrupt", "analogue", "bus")


def _board() -> list[Pin]:
    """Pins of which every second, third or fourth can do more than others."""
    able = [["digital", *(n for k, n in enumerate(NEEDS[1:], 2) if place % k == 0)] for place in range(PINS)]
    return [Pin.model_validate({"id": f"p{k}", "label": f"D{k}", "can": can}) for k, can in enumerate(able)]


def wiring() -> dict[str, float]:
    """The pins of 40 demands on a board of 60, by the least cost; the netlist and the review of the puppet stage."""
    pins = _board()
    wants = [(f"S{k}", NEEDS[k % 3]) for k in range(DEMANDS)]
    done = assess(puppet_stage())
    build = done.build
    scenes: dict[str, Scene] = {id: d.scene for id, d in done.drives.items()}

    def join() -> object:
        return netlist(build, (_harness(s) for s in scenes.values()))

    def judged() -> object:
        net = netlist(build, (_harness(s) for s in scenes.values()))
        judge = Judge()
        judge.frame(AXES)
        return judge.all(review.checks(build, net, scenes))

    half_bridge = next(iter(assess(cider_stirrer()).drives.values())).wiring.netlist

    def laid() -> object:
        return board_plan(half_bridge, "unit u1")

    return {
        "40 demands on 60 pins, ms (aim 200)": best_ms(lambda: _matched(wants, pins)),
        "netlist of the puppet stage, ms": best_ms(join),
        "netlist and review, ms (aim 10)": best_ms(judged),
        "largest board of one's own laid out, s": best_ms(laid, repeats=1) / 1e3,
    }


def _harness(scene: Scene) -> DriveHarness:
    driven = scene.driven
    if driven is not None:
        return of_driven(driven.at, driven.wires, driven.pins)
    assert isinstance(scene, ServoScene)
    return of_servo(scene.build, scene.drive, scene.controller, scene.wires, scene.pins)


if __name__ == "__main__":
    for name, value in wiring().items():
        print(f"{name}: {value:.3g}")
