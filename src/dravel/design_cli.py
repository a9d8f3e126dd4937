"""The command that designs: whole rigs for targets and a sum, out of the shelf of the data."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError

from dravel.command import UNREADABLE, Data, settings_of, told

Demo = Annotated[bool, typer.Option(help="Use the demo's parts, sites and targets.")]
SHOWN = 12


def add_to(app: typer.Typer) -> None:
    """Add the command to the command line."""
    app.command()(design)


def design(
    targets: Annotated[
        str, typer.Option(help="Targets, with commas between them: M81, NGC 891. `list` for your list.")
    ] = "",
    request: Annotated[
        str, typer.Option(help="Or in words: galaxies-in-spring, wide-nebulae, planets, a-bit-of-all.")
    ] = "",
    site: Annotated[str, typer.Option(help="Site, by id or name; default: the first.")] = "",
    money: Annotated[str, typer.Option(help="New money at most.")] = "",
    currency: Annotated[str, typer.Option(help="Its currency, three letters.")] = "EUR",
    carried: Annotated[str, typer.Option(help="To carry at most, kg.")] = "",
    trips: Annotated[str, typer.Option(help="Trips on foot at most.")] = "",
    stays: Annotated[str, typer.Option(help="Ids of parts that stay, with commas between them.")] = "",
    without: Annotated[
        str, typer.Option(help="Not wanted: computer, guiding, off_axis, collimation, mono, colour, counterweights.")
    ] = "",
    second_hand: Annotated[bool, typer.Option(help="Use second-hand prices.")] = False,
    mains: Annotated[bool, typer.Option(help="Mains is at hand.")] = False,
    narrowband: Annotated[bool, typer.Option(help="Only through narrowband filters.")] = False,
    as_json: Annotated[
        bool, typer.Option("--json", help="The whole answer as JSON, with the rigs' documents.")
    ] = False,
    data: Data = None,
    demo: Demo = False,
) -> None:
    """Design whole rigs for what you want to photograph: the best trade-offs, each judged by every rule."""
    from dravel.api.tonight import tonight
    from dravel.core.design.designer import BadRequest, Designer
    from dravel.store import Unknown
    from dravel.work.designing import for_sale, request_of, site_of

    settings = settings_of(None, data)
    with _store(settings.database(demo), demo) as store:
        try:
            asked = _asked(
                store, about=request.replace("-", "_"), targets=_split(targets), site=_site(store, site), money=_number("money", money),
                currency=currency, carried_kg=_number("carried", carried), trips=_number("trips", trips), stays=_split(stays),
                not_wanted=_split(without), second_hand=second_hand, mains=mains, narrowband=narrowband,
            )  # fmt: skip
            preferences = store.preferences()[0]
            given = request_of(asked, store, settings.tonight or tonight(site_of(store, asked.site)), preferences)
            shelf, beside = for_sale(tuple(entry.body for entry in store.parts.all()))
            designer = Designer()
            points: list[Any] = []
            answer: Any = None
            for event in designer.search(given, shelf, preferences, beside):
                if event.point is not None and event.sure:
                    points.append(event.point)
                answer = event.answer or answer
            if as_json:
                rigs = [designer.rig(given, shelf, preferences, point.row) for point in points]
                whole = {
                    "answer": answer.model_dump(mode="json"),
                    "rigs": [rig.model_dump(mode="json") for rig in rigs],
                }
                typer.echo(json.dumps(whole, ensure_ascii=False, indent=1))
            else:
                typer.echo(_words(given, points, answer))
        except (BadRequest, Unknown) as error:
            typer.echo(f"{error}.", err=True)
            raise typer.Exit(UNREADABLE) from None
    if not points:
        raise typer.Exit(1)


def _store(path: Path, demo: bool) -> Any:
    """The data that are there; of a demo never started a scratch one."""
    from contextlib import contextmanager
    from tempfile import TemporaryDirectory

    from dravel.seed import seed_demo
    from dravel.store import Store

    @contextmanager
    def opened() -> Any:
        with TemporaryDirectory() as folder, told(path):
            there = path.is_file()
            if not there and not demo:
                typer.echo(f"There are no data at {path} yet. Start Dravel once, or take the demo's: --demo", err=True)
                raise typer.Exit(UNREADABLE)
            store = Store(path if there else Path(folder) / "demo.sqlite")
            try:
                if not there:
                    seed_demo(store)
                yield store
            finally:
                store.close()

    return opened()


def _split(given: str) -> tuple[str, ...]:
    return tuple(item.strip() for item in given.split(",") if item.strip())


def _number(option: str, given: str) -> float | int | None:
    """A number as it was typed; none where nothing was. Raises `BadRequest`, naming the option."""
    from dravel.core.design.designer import BadRequest

    text = given.replace(",", "").strip()
    try:
        return None if not text else int(text) if text.isdecimal() else float(text)
    except ValueError:
        raise BadRequest(f"--{option}: '{given}' is not a number") from None


def _site(store: Any, given: str) -> str | None:
    from dravel.core.design.designer import BadRequest

    if not given:
        return None
    known: dict[str, str] = {entry.id: entry.body.name for entry in store.sites.all()}
    results = [key for key, name in known.items() if given in (key, name)]
    if not results:
        raise BadRequest(f"--site: there is no site '{given}'; there are {', '.join(known.values()) or 'none'}")
    return results[0]


def _asked(store: Any, **given: Any) -> Any:
    """The request as it is asked. Raises `BadRequest`, naming the option."""
    from dravel.catalogue.objects import catalogue
    from dravel.core.design.designer import BadRequest
    from dravel.work.designing import DesignAsked

    names = given.pop("targets")
    if names and given["about"]:
        raise BadRequest("--targets and --request: say one of them")
    if names and names != ("list",):
        kept = {name.lower(): entry.id for entry in store.targets.all() for name in (entry.id, entry.body.name)}
        ids = []
        for name in names:
            key = kept.get(name.lower())
            if key is None:
                try:
                    catalogue().get(name)
                except KeyError:
                    raise BadRequest(
                        f"--targets: '{name}' is neither among your targets nor in the catalogue"
                    ) from None
            ids.append(key or name)
        given |= {"about": "list", "targets": tuple(ids)}
    elif names:
        given["about"] = "list"
    given["about"] = given["about"] or "a_bit_of_all"
    try:
        return DesignAsked.model_validate(given)
    except ValidationError as error:
        first = error.errors()[0]
        where = str(first["loc"][0]).replace("_kg", "").replace("not_wanted", "without").replace("about", "request")
        raise BadRequest(f"--{where}: {str(first['msg']).removeprefix('Value error, ')}") from None


def _words(request: Any, points: list[Any], answer: Any) -> str:
    """The answer as lines of text."""
    where = f" from {request.site.name}" if request.site else ""
    lines = [f"For {', '.join(target.name for target in request.targets)}{where}:"]
    lines += [
        f"  {point.scores.money:>7,.0f} {request.currency}  {point.scores.mass_kg:5.1f} kg  fit {point.scores.fit:4.0%}  "
        f"ease {point.scores.ease:2d}  {point.name}, {point.camera}, "
        f"{point.guided.replace('_', ' ') if point.guided != 'none' else 'unguided'}"
        for point in points[:SHOWN]
    ]
    if len(points) > SHOWN:
        lines.append(f"  and {len(points) - SHOWN} more")
    lines += [f"{reason.title} {reason.words}" for reason in answer.reasons]
    lines += map(str, answer.notes)
    lines.append(
        f"{answer.combinations:,} combinations looked at, {answer.judged} rigs judged by every rule, {len(points)} stand."
    )
    return "\n".join(lines)
