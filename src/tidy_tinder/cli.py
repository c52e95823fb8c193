"""The command `tidy-tinder`: serve, import-catalogue, standins, backup, restore, reader."""

from __future__ import annotations

import json
import logging
import signal
import socket
import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import ExitStack, closing, contextmanager
from pathlib import Path
from types import FrameType
from typing import NoReturn, TypeVar

import click
from sqlalchemy.exc import SQLAlchemyError

from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.errors import TidyTinderError
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.cards import deal_cards, deal_cards_on_all
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.services.exchange.backup import CollectionFiles, back_up, restore
from tidy_tinder.services.exchange.catalogue import CataloguePreview, import_catalogue, preview_catalogue
from tidy_tinder.services.reader import run_simulated_reader
from tidy_tinder.services.standins.mark_beside_mark import RankedOffer, RankedStandins, standins_for_text
from tidy_tinder.settings import DEFAULT_PORT, Settings, settings_for
from tidy_tinder.storage.lock import only_program
from tidy_tinder.storage.making import is_ready
from tidy_tinder.storage.trouble import trouble_in

_MOST_THREADS = 6

FC = TypeVar("FC", bound=Callable[..., object])


def main() -> None:
    """Run the command line; an error on purpose is said in words, without a stack trace."""
    try:
        cli(standalone_mode=False)
    except TidyTinderError as error:
        _say(error)
    except (OSError, SQLAlchemyError, sqlite3.Error) as error:
        trouble = trouble_in(error)
        if trouble is None:
            raise
        _say(trouble)
    except click.exceptions.Abort:
        raise SystemExit(130) from None
    except click.ClickException as error:
        error.show()
        raise SystemExit(error.exit_code) from None


def _say(error: TidyTinderError) -> NoReturn:
    click.echo(f"{error.title}. {error.detail}", err=True)
    raise SystemExit(1) from None


@click.group()
@click.version_option(package_name="tidy-tinder")
def cli() -> None:
    """Which of my coloured pencils comes closest, on this paper, and what will be off?"""


_DATA = click.option("--data", type=click.Path(path_type=Path), help="Folder of the collection (default: your own).")
_DEMO = click.option("--demo", is_flag=True, help="The invented demo collection, in a folder of its own.")


def _port(default: int) -> Callable[[FC], FC]:
    """The option of a port, each command with its own default."""
    kind, told = click.IntRange(0, 65535), "Port on 127.0.0.1; 0 takes a free one."
    return click.option("--port", type=kind, default=default, show_default=True, help=told)


@cli.command()
@_DEMO
@_port(DEFAULT_PORT)
@_DATA
def serve(demo: bool, port: int, data: Path | None) -> None:
    """Serve the application on this machine; the first line printed is its address."""
    settings = settings_for(data, demo)
    signal.signal(signal.SIGTERM, _stop)
    with closing(_listen(port)) as listener:
        _serve(settings, listener)


def _serve(settings: Settings, listener: socket.socket) -> None:
    address = f"http://127.0.0.1:{listener.getsockname()[1]}/"
    with only_program(settings.database, f"at {address}"), closing(_open(settings)) as collection:
        from tidy_tinder.web.app import create_app, run  # noqa: PLC0415 -- the other commands need no web server

        app = create_app(collection, demo=settings.demo)
        click.echo(address)
        click.echo(f"The collection is in {settings.database}. Stop with Ctrl+C.", err=True)
        logging.getLogger("waitress").setLevel(logging.ERROR)
        # While the browser loads the page, its marks are drawn.
        threading.Thread(target=deal_cards, args=(collection,), name="shelves", daemon=True).start()
        collection.keep_fitted(then=lambda: deal_cards_on_all(collection))
        run(app, listener, threads=_MOST_THREADS)


def _stop(_signal: int, _frame: FrameType | None) -> NoReturn:
    """End as Ctrl+C does: what runs is stopped and the file left whole."""
    raise KeyboardInterrupt


@cli.command("import-catalogue")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--preview", is_flag=True, help="Only say what would be done.")
@_DEMO
@_DATA
def import_catalogue_command(file: Path, preview: bool, demo: bool, data: Path | None) -> None:
    """Take a catalogue in from a CSV file: whole, or not at all."""
    settings = settings_for(data, demo)
    with only_program(settings.database, "taking a catalogue in"), closing(_open(settings)) as collection:
        _take_in(collection, file, preview)


def _take_in(collection: Collection, file: Path, preview: bool) -> None:
    content = file.read_bytes()
    seen = preview_catalogue(collection, content)
    if seen.problems:
        for problem in seen.problems:
            column = f", column {problem.column}" if problem.column else ""
            click.echo(f"line {problem.line}{column}: {problem.message}", err=True)
        raise click.ClickException(f"{file.name} was not taken in; mend these {len(seen.problems)} and try again.")
    if not preview:
        import_catalogue(collection, content)
    click.echo(_summary(seen, preview))


@cli.command()
@click.argument("call")
@click.option("--on", "paper", required=True, help="Name of the paper, or part of it.")
@click.option(
    "--pressure", type=click.Choice([str(p) for p in MARK_PRESSURES]), default=str(Pressure.HEAVY), show_default=True
)
@click.option("--closest", type=click.Choice([c.value for c in Closest]), default="overall", show_default=True)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
@_DEMO
@_DATA
def standins(call: str, paper: str, pressure: str, closest: str, as_json: bool, demo: bool, data: Path | None) -> None:
    """Which pencils at hand come closest to CALL (code, name, or range and code)."""
    with closing(_open_for_reading(settings_for(data, demo))) as collection:
        ranked = standins_for_text(collection, call, paper, Pressure(pressure), Closest(closest))
    click.echo(json.dumps(_as_dict(ranked), ensure_ascii=False, indent=1) if as_json else _as_text(ranked))


@cli.command("backup")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@_DEMO
@_DATA
def backup_command(file: Path, demo: bool, data: Path | None) -> None:
    """Write the whole collection into FILE; it may be served meanwhile."""
    files = CollectionFiles(settings_for(data, demo).database)
    if not files.database.exists():
        raise click.ClickException(f"There is no collection in {files.database.parent}.")
    if file.exists():
        raise click.ClickException(f"{file} exists already and is not overwritten. Choose another name.")
    archive = back_up(files, file)
    click.echo(f"Backed up into {file}: the collection and {archive.pictures} pictures.")


@cli.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@_DEMO
@_DATA
def restore_command(file: Path, demo: bool, data: Path | None) -> None:
    """Put the backup FILE in the place of the collection; what was there is backed up first."""
    files = CollectionFiles(settings_for(data, demo).database)
    with only_program(files.database, "restoring a backup"):
        done = restore(files, file)
    click.echo(f"Restored the backup of {done.archive.made_at}.")
    if done.safety_copy:
        click.echo(f"What was there before is in {done.safety_copy}.")


@cli.command("reader")
@_port(0)
def reader_command(port: int) -> None:
    """Run the simulated colour reader; the first line printed is the port to connect to."""
    with _port_in_words(port, "perhaps a simulated reader is running already"):
        run_simulated_reader(port, lambda taken: click.echo(str(taken)))


def _open(settings: Settings) -> Collection:
    """The collection, ready to use: a new one gets its first paper, a new demo its data."""

    def begin(collection: Collection) -> None:
        if settings.demo:
            from tidy_tinder.demo.loader import load_demo  # noqa: PLC0415 -- only the first start of the demo needs it

            click.echo("Loading the demo …", err=True)
            load_demo(collection)
        begin_collection(collection)

    collection = open_collection(settings.database, begin=begin)
    begin_collection(collection)  # one without a paper was left by an earlier version
    return collection


def _open_for_reading(settings: Settings) -> Collection:
    """The collection, which another program may be serving; only one may make it or bring it up to date."""
    if not is_ready(settings.database):
        with only_program(settings.database, "making the collection ready"):
            _open(settings).close()
    return _open(settings)


def _listen(port: int) -> socket.socket:
    """A listening socket on the loopback address."""
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    with (
        ExitStack() as unless_it_listens,
        _port_in_words(port, f"perhaps Tidy Tinder is running already: look at http://127.0.0.1:{port}/"),
    ):
        unless_it_listens.callback(listener.close)
        listener.bind(("127.0.0.1", port))
        # Listening here, not in the server, makes a second program on the port fail at once, in words.
        listener.listen(128)
        unless_it_listens.pop_all()
    return listener


@contextmanager
def _port_in_words(port: int, perhaps: str) -> Iterator[None]:
    """Say why a port cannot be listened on."""
    try:
        yield
    except PermissionError:
        raise click.ClickException(
            f"Port {port} may not be used by this account. Choose one above 1023 with --port, or --port 0 for a free "
            "one."
        ) from None
    except OSError:
        raise click.ClickException(
            f"Port {port} is taken; {perhaps}. Otherwise choose another with --port, or --port 0 for a free one."
        ) from None


def _summary(seen: CataloguePreview, preview: bool) -> str:
    """What was, or would be, done, in one line."""
    if seen.changes_nothing:
        return f"All {seen.same_colours} colours are here already; nothing changed."
    verb = "Would add" if preview else "Added"
    parts = [f"{seen.new_colours} colours", f"{seen.changed_colours} corrections", f"{seen.new_pencils} pencils"]
    adapted = f" {seen.adapted_from_d50} values were adapted from D50." if seen.adapted_from_d50 else ""
    return f"{verb} {', '.join(parts)} ({', '.join(seen.ranges)}); {seen.same_colours} unchanged.{adapted}"


def _as_text(ranked: RankedStandins) -> str:
    wanted = f"{ranked.wanted.range_name} {ranked.wanted.code} {ranked.wanted.name}"
    lines = [f"{wanted}, {ranked.pressure}, on {ranked.paper_name}, closest {ranked.closest.value}"]
    for title, offers in (
        ("measured or predicted on this paper", ranked.on_paper),
        ("by chart, not on this paper", ranked.by_chart),
    ):
        if offers:
            lines.append(f"  {title}")
        lines.extend(_offer_line(offer) for offer in offers)
    lines.extend(f"  {count} left out: {reason.value}" for reason, count in ranked.left_out.items())
    if not (ranked.on_paper or ranked.by_chart):
        lines.append("  no pencil at hand can be compared with it")
    return "\n".join(lines)


def _offer_line(offer: RankedOffer) -> str:
    name = f"{offer.colour.range_name} {offer.colour.code} {offer.colour.name}"
    d = offer.difference
    plus_minus = "      " if offer.plus_minus is None else f"±{offer.plus_minus:4.1f} "
    figures = f"dE00 {d.delta_e:4.1f} {plus_minus} dL {d.delta_L:+5.1f}  dC {d.delta_C:+5.1f}  dH {d.delta_H:+5.1f}"
    tie = "tie, " if offer.tie else ""
    return f"    {name:38} {figures}  {tie}{', '.join(d.words) or 'no difference to be seen'}"


def _as_dict(ranked: RankedStandins) -> dict[str, object]:
    return {
        "wanted": {"range": ranked.wanted.range_name, "code": ranked.wanted.code, "name": ranked.wanted.name},
        "paper": ranked.paper_name,
        "pressure": ranked.pressure,
        "layers": ranked.layers,
        "closest": ranked.closest.value,
        "on_this_paper": [_offer_dict(o) for o in ranked.on_paper],
        "by_chart": [_offer_dict(o) for o in ranked.by_chart],
        "left_out": {reason.value: count for reason, count in ranked.left_out.items()},
    }


def _offer_dict(offer: RankedOffer) -> dict[str, object]:
    d = offer.difference
    return {
        "range": offer.colour.range_name,
        "code": offer.colour.code,
        "name": offer.colour.name,
        "basis": offer.basis.value,
        "lab": [round(v, 2) for v in offer.offered.lab],
        "wanted_lab": [round(v, 2) for v in offer.wanted.lab],
        "delta_e_2000": round(d.delta_e, 3),
        "ranked_by": round(offer.ranked_by, 3),
        "plus_minus": None if offer.plus_minus is None else round(offer.plus_minus, 2),
        "tie": offer.tie,
        "delta_L": round(d.delta_L, 2),
        "delta_C": round(d.delta_C, 2),
        "delta_H": round(d.delta_H, 2),
        "words": list(d.words),
        "band": d.band.value,
    }
