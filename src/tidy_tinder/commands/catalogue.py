"""Take a catalogue in from a CSV file: whole, or not at all."""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

import click

from tidy_tinder.commands.opening import open_for
from tidy_tinder.commands.options import DATA, DEMO
from tidy_tinder.services.background.runtime import Collection
from tidy_tinder.services.exchange.catalogue import CataloguePreview, import_catalogue, preview_catalogue
from tidy_tinder.settings import settings_for
from tidy_tinder.storage.lock import only_program


@click.command("import-catalogue")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option("--preview", is_flag=True, help="Only say what would be done.")
@DEMO
@DATA
def import_catalogue_command(file: Path, preview: bool, demo: bool, data: Path | None) -> None:
    """Take a catalogue in from a CSV file: whole, or not at all."""
    settings = settings_for(data, demo)
    with only_program(settings.database, "taking a catalogue in"), closing(open_for(settings)) as collection:
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


def _summary(seen: CataloguePreview, preview: bool) -> str:
    """What was, or would be, done, in one line."""
    if seen.changes_nothing:
        return f"All {seen.same_colours} colours are here already; nothing changed."
    verb = "Would add" if preview else "Added"
    parts = [f"{seen.new_colours} colours", f"{seen.changed_colours} corrections", f"{seen.new_pencils} pencils"]
    adapted = f" {seen.adapted_from_d50} values were adapted from D50." if seen.adapted_from_d50 else ""
    return f"{verb} {', '.join(parts)} ({', '.join(seen.ranges)}); {seen.same_colours} unchanged.{adapted}"
