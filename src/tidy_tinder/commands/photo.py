"""The simulated camera from the command line: a printed page coloured in and photographed, without printer or paper."""

from __future__ import annotations

from pathlib import Path

import click

from tidy_tinder.services.photos.simulated import CONDITIONS, photograph_layout


@click.command()
@click.argument("layout", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.argument("photo", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--page", type=int, default=1, show_default=True, help="Which page of the sheet.")
@click.option("--condition", type=click.Choice(list(CONDITIONS)), default="window", show_default=True)
@click.option("--on", "paper", default="Vellum board", show_default=True, help="Which paper of the demo it lies on.")
@click.option(
    "--filled", type=click.IntRange(0, 100), default=100, show_default=True, help="Per cent of its cells coloured in."
)
def photo_command(layout: Path, photo: Path, page: int, condition: str, paper: str, filled: int) -> None:
    """Photograph a page of LAYOUT (a sheet's layout as JSON) with the simulated camera into PHOTO, a JPEG file."""
    photo.write_bytes(photograph_layout(layout.read_bytes(), page, CONDITIONS[condition], paper, filled))
    click.echo(f"{photo}: page {page}, {condition}.")
