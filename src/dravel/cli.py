"""The command line: demo, serve, passcode, copy, check, measure, guide-log, picture, rules, where; keep_cli has the rest."""

import gc

# Imports make many objects and no garbage: collecting while they run costs a seventh of the start.
gc.disable()

import json
import signal
import socket
import sys
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from dravel import __version__, design_cli, keep_cli
from dravel.command import UNREADABLE, Data, Host, Port, Proxy, settings_of, told
from dravel.config import Settings
from dravel.core.model import Evaluation, Preferences
from dravel.core.overview.rule_book import as_text, page, pages
from dravel.core.steps import STEPS
from dravel.formats import rig_file

if TYPE_CHECKING:
    from dravel.core.engine.context import Context
    from dravel.store import Store

app = typer.Typer(
    help="Dravel: design, check and prove an imaging rig.", no_args_is_help=True, pretty_exceptions_enable=False
)


def _version(asked: bool) -> None:
    if asked:
        typer.echo(f"Dravel {__version__}")
        raise typer.Exit


@app.callback()
def main(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Show the version and exit.")
    ] = False,
) -> None:
    """Design, check and prove an imaging rig."""


MARKS = {"ok": "○", "warning": "◐", "problem": "◆"}
LEVELS = {"ok": "OK", "warning": "warnings", "problem": "problems"}
EXITS = {"ok": 0, "warning": 1, "problem": 2}
TURN_S = 0.0005
QUEUE = 128  # connections that wait to be taken in
WINDING_UP_S = 3  # for answers under way when the server is told to stop


@app.command()
def demo(
    port: Port = None,
    data: Data = None,
    host: Host = None,
    behind_proxy: Proxy = False,
    fresh: Annotated[bool, typer.Option(help="Start over: the old demo database is put aside.")] = False,
) -> None:
    """Start with demo data, in a database of its own."""
    _serve(settings_of(port, data, host, behind_proxy=behind_proxy), demo=True, fresh=fresh)


@app.command()
def serve(port: Port = None, data: Data = None, host: Host = None, behind_proxy: Proxy = False) -> None:
    """Start with the user's own data."""
    _serve(settings_of(port, data, host, behind_proxy=behind_proxy), demo=False)


@app.command()
def passcode(
    data: Data = None,
    remove: Annotated[bool, typer.Option(help="Remove the passcode; remote access is disabled.")] = False,
) -> None:
    """Set the passcode that other machines need. What is typed is not shown; from a pipe, one line is read."""
    from dravel.api.access import WeakPasscode, keep_passcode, passcode_file

    folder = settings_of(None, data).data
    try:
        if remove:
            passcode_file(folder).unlink(missing_ok=True)
            typer.echo("Passcode removed; remote access is disabled.")
            return
        if sys.stdin.isatty():
            given = typer.prompt("Passcode", hide_input=True, confirmation_prompt=True)
        else:
            given = sys.stdin.readline().rstrip("\r\n")
        keep_passcode(folder, given)
    except WeakPasscode as error:
        typer.echo(f"Passcode: {error}. The old one, if there was one, stays.", err=True)
        raise typer.Exit(UNREADABLE) from None
    except OSError as error:
        typer.echo(f"{passcode_file(folder)}: {error.strerror}.", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo(
        "Passcode set. Sessions opened with another passcode have ended. For other machines: dravel serve --host 0.0.0.0"
    )


def _serve(settings: Settings, *, demo: bool, fresh: bool = False) -> None:
    from dravel.api.access import is_loopback, kept_hash

    if (settings.behind_proxy or not is_loopback(settings.host)) and kept_hash(settings.data) is None:
        typer.echo(
            f"{'A proxy' if settings.behind_proxy else settings.host} would let others in, and there is no passcode yet. Set one first: "
            f"dravel passcode{'' if settings.data == Settings().data else f' --data {settings.data}'}",
            err=True,
        )
        raise typer.Exit(UNREADABLE)
    from dravel.api.app import create_app
    from dravel.formats.language import BadCatalogue, read

    try:
        if settings.language is not None:
            read(settings.language)
    except BadCatalogue as error:
        typer.echo(f"DRAVEL_LANGUAGE: {error}", err=True)
        raise typer.Exit(UNREADABLE) from None
    listener = _listen(settings)
    from dravel.store import Store, hold, put_aside

    path = settings.database(demo)
    with told(path):
        if fresh and (old := put_aside(path)) is not None:
            typer.echo(f"The old demo data were put aside: {old}")
        held = hold(path)
        store = Store(path)
        _seed(store, demo, settings)
    for item in store.damaged():
        typer.echo(f"Damaged: {item.kind} {item.id}{f' ({item.name})' if item.name else ''}: {item.because}", err=True)
    shown = f"[{settings.host}]" if ":" in settings.host else settings.host
    address = f"http://{shown}:{listener.getsockname()[1]}/"
    typer.echo(f"Dravel {__version__}{' with demo data' if demo else ''}: {address}")
    typer.echo(f"Data: {store.database.path}. Stop with Ctrl+C.")
    sys.stdout.flush()
    application = create_app(store, settings.model_copy(update={"port": listener.getsockname()[1]}), demo=demo)
    gc.freeze()
    gc.enable()
    try:
        _run(application, listener)
    finally:
        store.close()
        held.close()


def _seed(store: "Store", demo: bool, settings: Settings) -> None:
    """What a new database starts with, all or nothing; of two first starts at once the second finds it there."""
    from dravel.seed import seed_demo, seed_starter, top_up

    with store.database.write():
        if store.is_empty():
            if demo:
                seed_demo(store, settings.tonight or date.today())
            else:
                seed_starter(store)
        else:
            top_up(store)


def _run(application: Any, listener: socket.socket) -> None:
    """Serve until told to stop; a closed terminal and a plain kill end it as Ctrl+C does, with everything written."""
    import logging

    import uvicorn

    from dravel.api.connections import AT_A_TIME, Connection, Once, most_connections

    class Server(uvicorn.Server):
        async def startup(self, sockets: list[socket.socket] | None = None) -> None:
            await super().startup(sockets)
            for item in sockets or []:
                item.listen(QUEUE)  # few are taken in at a time; the others may wait in line

    # Who only asks for a small thing shares the interpreter with who computes: the shorter each turn, the sooner it is answered.
    sys.setswitchinterval(TURN_S)
    Connection.most = most_connections()
    logging.getLogger("asyncio").addFilter(Once())
    server = Server(
        uvicorn.Config(
            application, log_level="warning", server_header=False, http=Connection, ws="none", backlog=AT_A_TIME,
            timeout_graceful_shutdown=WINDING_UP_S,
        )
    )  # fmt: skip

    def stop(*_: object) -> None:
        server.should_exit = True

    # The server puts its own handlers over these while it runs, and raises what it caught again once it is done.
    for caught in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(caught, stop)
    with suppress(KeyboardInterrupt):
        server.run([listener])


@app.command()
def copy(
    to: Annotated[Path, typer.Argument(help="The file to make; it must not be there yet.")],
    data: Data = None,
    demo: Annotated[bool, typer.Option(help="Copy the demo's data.")] = False,
) -> None:
    """Make a consistent copy of the data in one file, also while Dravel is running."""
    from dravel.store import copy_database

    path = settings_of(None, data).database(demo)
    if not path.is_file():
        typer.echo(f"There are no data at {path} yet.", err=True)
        raise typer.Exit(UNREADABLE)
    with told(to):
        copy_database(path, to)
    typer.echo(f"Copied to {to}, {to.stat().st_size:,} bytes.")


def _listen(settings: Settings) -> socket.socket:
    # The protocol must be named: without it asyncio leaves Nagle's algorithm on, and every answer waits 40 ms.
    family = socket.AF_INET6 if ":" in settings.host else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listener.bind((settings.host, settings.port))
    except OSError as error:
        typer.echo(
            f"Port {settings.port} on {settings.host} cannot be used ({error.strerror}). "
            f"Choose another: dravel demo --port {settings.port + 1}, or make demo PORT={settings.port + 1}.",
            err=True,
        )
        raise typer.Exit(UNREADABLE) from None
    listener.listen(64)
    return listener


@app.command()
def check(
    rigfile: Annotated[Path, typer.Argument(help="A rig file.")],
    as_json: Annotated[bool, typer.Option("--json", help="Print the evaluation as JSON.")] = False,
) -> None:
    """Print figures and findings of a rig file. Exit 0 OK, 1 warnings, 2 problems, 3 unreadable."""
    from dravel.catalogue.starter_shelf import starter_shelf

    try:
        text = rigfile.read_bytes()
        try:
            rig = rig_file.read(text)
        except rig_file.UnknownFields as error:
            typer.echo(
                f"{rigfile}: left out, not known here: {', '.join(fault.field for fault in error.faults)}", err=True
            )
            rig = rig_file.read(text, without_unknown=True)
    except (OSError, rig_file.RigFileError) as error:
        words = error.strerror if isinstance(error, OSError) else str(error)
        typer.echo(f"{rigfile}: {words}", err=True)
        raise typer.Exit(UNREADABLE) from None
    result = STEPS.evaluate(rig, Preferences(), starter_shelf())
    typer.echo(result.model_dump_json(indent=2) if as_json else _report(rig.name, result))
    raise typer.Exit(EXITS[result.verdict])


def _report(name: str, result: Evaluation) -> str:
    lines = [f"{name}: {LEVELS[result.verdict]}", ""]
    for figure in result.figures:
        title = f"{figure.title} ({figure.subject})" if figure.subject else figure.title
        lines.append(f"  {title:<52} {figure.value:>10.{figure.decimals}f} {figure.unit}".rstrip())
    lines += [f"  {gap.title:<52} {'—':>10} {gap.because}" for gap in result.missing]
    lines.append("")
    for finding in result.findings:
        about = f" · {finding.subject}" if finding.subject else ""
        lines.append(f"{MARKS[finding.verdict]} {finding.code} {finding.title}{about}  {finding.measure}".rstrip())
        lines.append(f"     {finding.reason} Limit: {finding.limit}.")
        lines += [f"     → {fix.label} ({fix.all_told})" for fix in finding.fixes]
    return "\n".join(lines)


@app.command()
def measure(
    folder: Annotated[Path, typer.Argument(help="A folder of light frames in FITS, or one of them.")],
    rig: Annotated[str, typer.Option(help="Id of the rig that took them.")],
    data: Data = None,
    demo: Annotated[bool, typer.Option(help="Take the rig from the demo's data.")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="Print what was measured as JSON, a line a frame.")] = False,
) -> None:
    """Measure frames and hold them against their rig. Exit 0 nothing stands out, 1 something does, 3 none can be read."""
    from dravel.core.frames.reading import FrameReading
    from dravel.core.steps.frames.view import FrameProof, proof, steady
    from dravel.work.frames import frames_in, measure_all
    from dravel.work.solving import met

    try:
        files = frames_in(folder)
    except OSError as error:
        typer.echo(f"{folder}: {error.strerror or error}", err=True)
        raise typer.Exit(UNREADABLE) from None
    context = _context_of(rig, data, demo=demo)
    read: list[tuple[FrameReading, FrameProof]] = []
    for file, result in measure_all(files):
        if isinstance(result, str):
            typer.echo(f"{file.name}: {result}", err=True)
            continue
        result = met(result, context)
        answer = proof(context, result)
        read.append((result, answer))
        typer.echo(
            json.dumps({"reading": result.model_dump(exclude={"picture"}), "proof": answer.model_dump()})
            if as_json else _frame_words(result, answer)
        )  # fmt: skip
    if not read:
        typer.echo(f"{folder}: no frame that can be measured", err=True)
        raise typer.Exit(UNREADABLE)
    if not as_json:
        for line in steady(tuple(item for item, _ in read)):
            typer.echo(line)
    raise typer.Exit(1 if any(report.causes for _, report in read) else 0)


def _context_of(rig: str, data: Path | None, *, demo: bool) -> "Context":
    """A kept rig as rules see it; exit 3 where there is none."""
    from dravel.store import Store, Unknown

    path = settings_of(None, data).database(demo)
    if not path.is_file():
        typer.echo(f"There are no data at {path} yet.", err=True)
        raise typer.Exit(UNREADABLE)
    with told(path):
        store = Store(path)
        try:
            return STEPS.context(store.rigs.get(rig).rig, store.preferences()[0])
        except Unknown as error:
            typer.echo(f"{error}. The rigs: {', '.join(item for item, _, _ in store.rigs.names())}.", err=True)
            raise typer.Exit(UNREADABLE) from None
        finally:
            store.close()


@app.command("guide-log")
def guide_log(
    file: Annotated[
        Path, typer.Argument(help="A guide log as CSV: time_s, ra_error_arcsec, dec_error_arcsec, pulses in ms.")
    ],
    rig: Annotated[str, typer.Option(help="Id of the rig with that mount.")],
    data: Data = None,
    demo: Annotated[bool, typer.Option(help="Take the rig from the demo's data.")] = False,
    unguided: Annotated[bool, typer.Option(help="No corrections were sent while it was written.")] = False,
) -> None:
    """Read a guide log and hold it against the mount's budget. Exit 0 within it, 1 beyond, 3 unreadable."""
    from dravel.core.frames.guide_log import ShortLog, read_log
    from dravel.core.steps.frames.log import log_words
    from dravel.formats.guide_log_csv import NotALog, read

    try:
        reading = read_log(read(file.read_bytes()), guided=not unguided)
    except OSError as error:
        typer.echo(f"{file}: {error.strerror or error}", err=True)
        raise typer.Exit(UNREADABLE) from None
    except (NotALog, ShortLog) as error:
        typer.echo(f"{file}: {error}", err=True)
        raise typer.Exit(UNREADABLE) from None
    beyond, lines = log_words(_context_of(rig, data, demo=demo), reading)
    typer.echo("\n".join(map(str, lines)))
    raise typer.Exit(1 if beyond else 0)


@app.command()
def picture(
    file: Annotated[Path, typer.Argument(help="Where the frame goes, in FITS; what is there stays.")],
    rig: Annotated[str, typer.Option(help="Id of the rig with that camera.")],
    fault: Annotated[
        list[str] | None, typer.Option(help="A fault and its size, such as tilt_um=60. May be given again.")
    ] = None,
    target: Annotated[str, typer.Option(help="Name of one of the rig's targets, else the first.")] = "",
    seconds: Annotated[float, typer.Option(min=0.001, max=7200, help="How long the sub is.")] = 120.0,
    seed: Annotated[int, typer.Option(min=0, help="Seed of noise and faint stars.")] = 1,
    data: Data = None,
    demo: Annotated[bool, typer.Option(help="Take the rig from the demo's data.")] = False,
) -> None:
    """Take a simulated frame of a rig with chosen faults, the truth in its header. Exit 0 written, 3 it cannot be."""
    from dravel.catalogue.stars import stars
    from dravel.stand_ins.picture import WrongFault, faults_told, real_stars, take
    from dravel.stand_ins.taking import NoCamera, framed, picture_rig, write

    context = _context_of(rig, data, demo=demo)
    try:
        if file.exists():
            raise WrongFault(f"{file} is there already")
        made, framing = picture_rig(context), framed(context, target)
        ra, dec, turn = framing.centre_ra_deg, framing.centre_dec_deg, (framing.position_angle_deg - 90) % 360
        reach = 0.6 * (made.width + made.height) * made.scale_arcsec / 3600
        listed = stars().listed(ra, dec, min(reach, 60.0))
        shot = take(
            made,
            real_stars(made, listed, ra, dec, turn, seed),
            faults_told(fault or (), context.known.get("star_px") or 2.5),
            seconds,
            seed,
        )
        write(shot, file, OBJECT=framing.target.name, RA=ra, DEC=dec)
    except (NoCamera, WrongFault, OSError) as error:
        typer.echo(f"No frame: {error}.", err=True)
        raise typer.Exit(UNREADABLE) from None


def _frame_words(found: Any, told: Any) -> str:
    lines = [f"{found.name}: {found.fitted} stars of {found.found}, {told.words}"]
    lines += [
        f"  {MARKS[row.verdict]} {row.title:<36} designed {row.designed:>14}  measured {row.measured:>14}  {row.words}".rstrip()
        for row in told.held
    ]
    for cause in told.causes:
        lines.append(f"  {cause.score:4.1f} × its limit: {cause.title}. {cause.says}")
        lines += [f"       + {words}" for words in cause.speaks_for]
        lines += [f"       − {words}" for words in cause.speaks_against]
        lines.append(f"       test: {cause.test}")
        lines.append(f"       next: {cause.change}")
    return "\n".join(lines)


@app.command()
def rules(
    code: Annotated[str | None, typer.Argument(help="Code of one rule, such as O1.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print as JSON.")] = False,
) -> None:
    """List the rule book, or print one rule."""
    if code is None:
        book = pages()
        lines = (f"{entry.code:<4} {entry.step:<6} {entry.title}" for entry in book)
        typer.echo(json.dumps([entry.model_dump() for entry in book], indent=2) if as_json else "\n".join(lines))
        return
    try:
        result = page(code.upper())
    except KeyError:
        typer.echo(f"There is no rule '{code}'. `dravel rules` lists them.", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo(result.model_dump_json(indent=2) if as_json else as_text(result))


@app.command()
def where(
    key: Annotated[str, typer.Argument(help="Key of a figure, as its working shows it, or code of a rule.")],
) -> None:
    """Print the file and line that a figure or a rule comes from."""
    from dravel.where import where as places

    try:
        result = places(key)
    except KeyError:
        typer.echo(f"There is no figure or rule '{key}'. `dravel check FILE --json` lists the keys.", err=True)
        raise typer.Exit(UNREADABLE) from None
    typer.echo("\n".join(f"{at}  {what}" for at, what in result))


keep_cli.add_to(app)
design_cli.add_to(app)

if __name__ == "__main__":
    app()
