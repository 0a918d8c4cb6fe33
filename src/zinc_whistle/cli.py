"""The command line: serve, assess a build file, and quick sums."""

from __future__ import annotations

import asyncio
import gc
import json
import logging
import socket
import sys
from dataclasses import asdict
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer
import uvicorn
from pydantic import ValidationError

from .api.app import create_app
from .api.lan import Lan, LanError, private_address
from .api.listening import Impatient
from .core.assess import Assessment, assess
from .core.model.build import Build
from .core.stations import BY_ID
from .core.sums import SUMS, Answer, SumError, work_out
from .demo.data import lantern_carousel, sample_parts
from .demo.seed import seed, stock_shelf
from .sheets.views import figure_view, finding_view
from .standins.serve import Bench
from .standins.serve import run as run_bench
from .standins.world import NoBench, World
from .store.database import Unusable, bring_back, copy
from .store.store import Store, data_folder

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Zinc Whistle: motor drivers, worked out.")
REFUSED = 2
SHIPPED_WEB = Path(__file__).parent / "web"
"""The front end inside an installed package; in a checkout it is built into web/dist."""


class LogLevel(StrEnum):
    """What the service tells of itself."""

    debug = "debug"
    info = "info"
    warning = "warning"
    error = "error"


@app.command()
def serve(
    data: Annotated[Path | None, typer.Option(help="Data file; else one in your user-data folder.")] = None,
    demo: Annotated[bool, typer.Option(help="Fill an empty file with the demo builds.")] = False,
    port: Annotated[int, typer.Option(min=0, max=65535)] = 8512,
    web: Annotated[
        Path | None, typer.Option(help="Folder of the built front end; else the one that came along.")
    ] = None,
    lan: Annotated[
        bool, typer.Option("--lan", help="Let phones in at this machine's private address, with a code. Plain HTTP.")
    ] = False,
    lan_address: Annotated[str, typer.Option(help="Which address, where this machine has several.")] = "",
    log_level: Annotated[
        LogLevel, typer.Option(help="What is told besides the address: info has a line for each request.")
    ] = LogLevel.warning,
) -> None:
    """Start the service on 127.0.0.1; with --lan phones may come too, with a code."""
    logging.basicConfig(level=log_level.value.upper(), format="%(levelname)s %(name)s: %(message)s")
    web = web or (SHIPPED_WEB if (SHIPPED_WEB / "index.html").is_file() else None)
    path = data or data_folder() / ("demo.sqlite3" if demo else "builds.sqlite3")
    try:
        store = Store(path)
    except Unusable as error:
        _refuse(str(error))
    (seed if demo else stock_shelf)(store)
    sockets = [_listening(port)]
    offered = _offered(lan_address or "auto", sockets[0].getsockname()[1]) if lan or lan_address else None
    if offered is not None:
        sockets.append(_listening(offered.port, offered.address))
    service = create_app(store, web, processes=True, instruments=path.parent / "instruments", lan=offered)
    server = uvicorn.Server(uvicorn.Config(service, host="127.0.0.1", port=port, http=Impatient, log_level="warning"))
    for listening in sockets:
        # Without this a reply's head and body wait for each other's acknowledgement, 40 ms each time.
        listening.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        # Listening before the address is printed: whoever reads it may connect at once.
        listening.listen(128)
    # An assessment makes some ten thousand small objects and drops them together: looking for rings among them at every
    # 700th costs a fifth of the time to answer.
    gc.collect()
    gc.freeze()
    gc.set_threshold(100_000, 20, 20)
    typer.echo(f"Zinc Whistle is at http://127.0.0.1:{sockets[0].getsockname()[1]}/  (data: {path}; Ctrl+C stops it)")
    if offered is not None:
        typer.echo(f"Phones may come to http://{offered.host}/ with a code: Build …, Phone at the bench.")
    sys.stdout.flush()
    try:
        server.run(sockets=sockets)
    finally:
        service.state.desk.end()
        store.close()


@app.command()
def bench(
    build: Annotated[Path | None, typer.Argument(help="An exported build; without one, the demo's carousel.")] = None,
    drive: Annotated[str, typer.Option(help="Which of its drives; else the first with a motor.")] = "",
) -> None:
    """Start a supply, a meter, an oscilloscope and a motor board that are not there, for one build."""
    try:
        put = lantern_carousel() if build is None else Build.model_validate(json.loads(build.read_text("utf-8")))
        made = Bench(World(put, sample_parts(), drive))
    except (OSError, ValueError) as error:
        _refuse(str(error) if isinstance(error, NoBench) else f"{build} is not a build file.")
    asyncio.run(run_bench(made))


@app.command()
def backup(
    to: Annotated[Path, typer.Argument(help="Where to; a backup of that name is replaced.")],
    data: Annotated[Path | None, typer.Option(help="Data file; else the one in your user-data folder.")] = None,
) -> None:
    """Copy the data file, also while the service runs."""
    source = data or data_folder() / "builds.sqlite3"
    try:
        copy(source, to)
    except Unusable as error:
        _refuse(str(error))
    typer.echo(f"{source} is copied to {to}.")


@app.command()
def restore(
    backup: Annotated[Path, typer.Argument(help="The backup to bring back.")],
    data: Annotated[Path | None, typer.Option(help="Data file; else the one in your user-data folder.")] = None,
) -> None:
    """Put a backup in the data file's place; stop the service first. What stood there is kept beside it."""
    target = data or data_folder() / "builds.sqlite3"
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        kept = bring_back(backup, target)
    except Unusable as error:
        _refuse(str(error))
    typer.echo(f"{target} is {backup} now." + (f" What stood there is {kept}." if kept else ""))


def _offered(wanted: str, port: int) -> Lan:
    """What is offered to phones at a private address, or a sentence why nothing can be."""
    try:
        address = private_address(wanted)
    except LanError as error:
        _refuse(str(error))
    return Lan(address, port)


def _listening(port: int, address: str = "127.0.0.1") -> socket.socket:
    """A socket at the port, or a sentence that it is taken."""
    made = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind((address, port))
    except OSError:
        if address != "127.0.0.1":
            _refuse(f"This machine does not listen at {address}, port {port}: is it its own address?")
        _refuse(
            f"Port {port} is in use already, perhaps by another Zinc Whistle: look at http://127.0.0.1:{port}/, "
            f"or start this one with --port {port + 1}."
        )
    made.set_inheritable(True)
    return made


@app.command(hidden=True)
def openapi() -> None:
    """Print the OpenAPI document that the front end's types are made from."""
    typer.echo(json.dumps(create_app(Store(":memory:")).openapi(), ensure_ascii=False, indent=1, sort_keys=True))


@app.command(name="assess")
def assess_file(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="Print JSON instead of words.")] = False
) -> None:
    """The full assessment of an exported build. Exit status 1 if anything stops, 2 if the file is refused."""
    try:
        build = Build.model_validate_json(file.read_bytes())
    except OSError as error:
        _refuse(f"{file} cannot be read: {error.strerror}.")
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "the file"
        _refuse(f"{file} is not a build file: {where}: {first['msg']}.")
    done = assess(build, sample_parts())
    typer.echo(json.dumps(_as_data(done), ensure_ascii=False, indent=1) if as_json else _as_words(done))
    raise typer.Exit(1 if any(x.severity == "stop" for x in done.findings) else 0)


def _as_data(done: Assessment) -> dict[str, Any]:
    return {
        "build": done.build.name,
        "stamps": {d: {s: asdict(done.stamp(d, s)) for s in x.stations} for d, x in done.drives.items()},
        "findings": [asdict(finding_view(x)) for x in done.findings],
        "figures": {k: asdict(figure_view(v)) for k, v in done.figures.items()},
        "errors": done.bound.errors,
    }


def _as_words(done: Assessment) -> str:
    lines = [done.build.name]
    for drive_id, drive in done.drives.items():
        lines.append(f"\n{drive.drive.name or drive_id}")
        for station in drive.stations:
            stamp = done.stamp(drive_id, station)
            lines.append(
                f"  {BY_ID[station].title:<12} {stamp.state}{'' if stamp.text == stamp.state else ' ' + stamp.text}"
            )
    lines.append("\nTight spots, nearest limit first")
    for view in map(finding_view, done.spots()):
        mark = {"stop": "STOP ", "warn": "WARN ", "tight": "tight"}.get(view.state, "     ")
        lines.append(f"  {mark} {view.use_text:>6}  {view.title}: {view.detail or view.todo}")
    lines += [f"  error  {path}: {sentence}" for path, sentence in done.bound.errors.items()]
    return "\n".join(lines)


@app.command(name="sum")
def quick_sum(
    name: Annotated[str, typer.Argument(help="Which sum; without one they are listed.")] = "",
    given: Annotated[list[str] | None, typer.Argument(help="Inputs as key=value, units in the key.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON instead of words.")] = False,
) -> None:
    """A quick sum with its working."""
    if not name:
        for one in SUMS.values():
            example = " ".join(f"{a.key}={a.example}" for a in one.asks)
            typer.echo(f"{one.name:<16} {one.title}\n{'':16} ./zw sum {one.name} {example}")
        return
    if name not in SUMS:
        _refuse(f"There is no sum “{name}”: there are {', '.join(SUMS)}.")
    texts: dict[str, str] = {}
    for pair in given or []:
        key, mark, value = pair.partition("=")
        if not mark:
            _refuse(f"“{pair}” is not key=value.")
        texts[key] = value
    try:
        answer = work_out(SUMS[name], texts)
    except SumError as error:
        _refuse(str(error))
    typer.echo(json.dumps(asdict(answer), ensure_ascii=False) if as_json else _sum_words(answer))


def _sum_words(answer: Answer) -> str:
    return "\n".join(f"{r.title}: {r.formula}\n    ({r.source})" for r in answer.results.values())


def _refuse(sentence: str) -> Any:
    typer.echo(sentence, err=True)
    raise typer.Exit(REFUSED)
