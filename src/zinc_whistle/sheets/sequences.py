"""Sequences and interlocks: their fields, their steps drawn, and what their check says."""

from __future__ import annotations

from dataclasses import replace

from ..core.assess import Assessment
from ..core.model.build import Build
from ..core.model.sequence import Interlock, Sequence, SequenceStep
from ..core.panel.script import PLACES, WHO_DOES, Actor, Order, Script, actors_of
from ..core.stations.signals.sequences import SequenceResult
from .fields import Describer, Field, FieldRow, Option, Section
from .links import with_links
from .signals_views import PressView, SequenceStepView, SequenceView, VerdictView


def views(all: Assessment, controller: str) -> list[SequenceView]:
    """The sequences of a controller."""
    own = {s.id for s in all.build.sequences if s.controller == controller}
    return [_view(r) for r in all.sequences if r.id in own]


def _view(result: SequenceResult) -> SequenceView:
    script, checked = result.script, result.checked
    if script is None or checked is None:
        return SequenceView(
            id=result.id,
            name=result.name,
            refusal=result.refusal,
            actors=[],
            steps=[],
            interlocks=[],
            verdicts=[],
            states=0,
            left_out=[],
        )
    used = {o.actor for o in script.orders}
    return SequenceView(
        id=result.id,
        name=result.name,
        refusal="",
        actors=[a.name for a in script.actors.values() if a.id in used],
        steps=[_step(script, o) for o in script.orders],
        interlocks=[g.says(script.actors) for g in script.guards],
        verdicts=[
            VerdictView(
                says=v.says if v.holds is not None else f"{v.says}: not looked at whole",
                holds=bool(v.holds),
                steps=[PressView(says=s, mode="") for s in v.steps],
            )
            for v in checked.verdicts
        ],
        states=checked.states,
        left_out=list(checked.left_out),
    )


def _step(script: Script, order: Order) -> SequenceStepView:
    does = {
        "forward": "drives forward",
        "back": "drives back",
        "stop": "stops",
        "on": "is switched on",
        "off": "is switched off",
        "place": f"goes to {order.place / PLACES * 100:.0f} %",
    }[order.do]
    until = {
        "limit": "to its limit",
        "time": f"for {order.ms / 1000:g} s",
        "rest": "until it rests",
        "there": f"and has {order.ms / 1000:.2g} s for it",
        "at once": "and on at once",
    }[order.until]
    return SequenceStepView(who=script.actors[order.actor].name, does=does, until=until)


def sections(build: Build, controller: str, d: Describer) -> list[Section]:
    """The sequences of a controller with their steps, then the interlocks; nothing where it tells one drive alone."""
    actors = actors_of(build, controller)
    if len(actors) < 2:
        return []
    named = [a for a in actors.values() if a.kind != "servo"]
    found: list[Section] = []
    for sequence in build.sequences:
        if sequence.controller == controller:
            title = f"Sequence: {sequence.name or 'without a name'}"
            made = with_links(
                d.section(sequence, title), d.link(sequence, "controller", "Controller", build.controllers)
            )
            found.append(replace(made, removable=True))
            found.append(_steps(build, sequence, d))
    blank = Sequence(id="new", name="Sequence", controller=controller).model_dump(mode="json")
    found.append(Section(title="Add a sequence", help="", fields=[], path="sequences", rows=None, blank=blank))
    locks = d.table(build, "interlocks", Interlock)
    rows = []
    for row, lock in zip(locks.rows or [], build.interlocks, strict=True):
        linked = _linked(_linked(row, lock, "drive", _options(named)), lock, "of", _options([*actors.values()]))
        rows.append(replace(linked, fields=_of_place(build, lock, lock.of, linked.fields, lock.fact == "at place")))
    found.append(replace(locks, rows=rows))
    return found


def _options(actors: list[Actor]) -> list[Option]:
    return [Option(value="", label="None yet"), *(Option(value=a.id, label=a.name) for a in actors)]


def _linked(row: FieldRow, item: SequenceStep | Interlock, name: str, options: list[Option]) -> FieldRow:
    """A row whose field of that name is a choice of drives."""
    fields = [
        Field(path=f.path, label=f.label, control="choice", text=getattr(item, name), options=options)
        if f.path.endswith(f".{name}")
        else f
        for f in row.fields
    ]
    return replace(row, fields=fields)


def _of_place(
    build: Build, item: SequenceStep | Interlock, drive: str, fields: list[Field], asked: bool
) -> list[Field]:
    """Fields in which a servo's place is asked for where it means something: a pose of its own, or a place in %."""
    servo = next((d.servo for d in build.servos if d.id == drive), None)
    poses = servo.poses if servo is not None else []
    options = [Option(value="", label="A place in %"), *(Option(value=p.id, label=p.name or p.id) for p in poses)]
    found = []
    for field in fields:
        name = field.path.rpartition(".")[2]
        if name == "pose":
            field = replace(field, control="choice", options=options)
        if name not in ("pose", "place") or (asked and (name == "pose" or not item.pose)):
            found.append(field)
    return found


def _steps(build: Build, sequence: Sequence, d: Describer) -> Section:
    """The steps of a sequence: only what its drive can do is offered, and only what then means something."""
    made = d.table(sequence, "steps", SequenceStep, title="Steps")
    actors = actors_of(build, sequence.controller)
    rows = []
    for row, step in zip(made.rows or [], sequence.steps, strict=True):
        linked = _linked(row, step, "drive", _options([*actors.values()]))
        actor = actors.get(step.drive)
        able = WHO_DOES[actor.kind] if actor is not None else None
        fields = []
        for f in _of_place(build, step, step.drive, linked.fields, step.do == "place"):
            name = f.path.rpartition(".")[2]
            if name == "time" and step.until not in ("time", "limit"):
                continue
            if name == "do" and able is not None and f.options:
                f = replace(f, options=[o for o in f.options if o.value in (*able, step.do)])
            fields.append(f)
        rows.append(replace(linked, fields=fields))
    return replace(made, rows=rows)
