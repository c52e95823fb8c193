"""Run the simulated colour reader."""

from __future__ import annotations

import click

from tidy_tinder.commands.options import port_in_words, port_option
from tidy_tinder.services.reader import run_simulated_reader


@click.command("reader")
@port_option(0)
def reader_command(port: int) -> None:
    """Run the simulated colour reader; the first line printed is the port to connect to."""
    with port_in_words(port, "perhaps a simulated reader is running already"):
        run_simulated_reader(port, lambda taken: click.echo(str(taken)))
