"""Write the whole collection into one file, and put such a file in its place."""

from __future__ import annotations

from pathlib import Path

import click

from tidy_tinder.commands.options import DATA, DEMO
from tidy_tinder.services.exchange.backup import CollectionFiles, back_up, restore, write_as_json
from tidy_tinder.settings import settings_for
from tidy_tinder.storage.lock import only_program


@click.command("backup")
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="As JSON, which other programs read.")
@DEMO
@DATA
def backup_command(file: Path, as_json: bool, demo: bool, data: Path | None) -> None:
    """Write the whole collection into FILE; it may be served meanwhile."""
    files = CollectionFiles(settings_for(data, demo).database)
    if not files.database.exists():
        raise click.ClickException(f"There is no collection in {files.database.parent}.")
    if file.exists():
        raise click.ClickException(f"{file} exists already and is not overwritten. Choose another name.")
    if as_json:
        write_as_json(files, file)
        click.echo(f"Written into {file} as JSON.")
        return
    archive = back_up(files, file)
    click.echo(f"Backed up into {file}: the collection and {archive.pictures} pictures.")


@click.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@DEMO
@DATA
def restore_command(file: Path, demo: bool, data: Path | None) -> None:
    """Put the backup FILE in the place of the collection; what was there is backed up first."""
    files = CollectionFiles(settings_for(data, demo).database)
    with only_program(files.database, "restoring a backup"):
        done = restore(files, file)
    click.echo(f"Restored the backup of {done.archive.made_at}.")
    if done.safety_copy:
        click.echo(f"What was there before is in {done.safety_copy}.")
