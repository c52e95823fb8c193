"""The command `tidy-tinder`: each of its commands is loaded when it is called, so that none waits for another's."""

from __future__ import annotations

from importlib import import_module
from typing import NoReturn

import click

from tidy_tinder.commands.loading import loading
from tidy_tinder.core.errors import TidyTinderError

# The command, and its function in `tidy_tinder.commands`.
_COMMANDS = {
    "serve": "serve:serve",
    "import-catalogue": "catalogue:import_catalogue_command",
    "standins": "standins:standins",
    "backup": "archives:backup_command",
    "restore": "archives:restore_command",
    "reader": "reader:reader_command",
    "photo": "photo:photo_command",
}


class _LoadedWhenCalled(click.Group):
    """A group that imports the module of a command only when that command, or its help, is asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        del ctx
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        del ctx
        if cmd_name not in _COMMANDS:
            return None
        module, function = _COMMANDS[cmd_name].split(":")
        with loading():
            command: click.Command = getattr(import_module(f"tidy_tinder.commands.{module}"), function)
        return command


def main() -> None:
    """Run the command line; an error on purpose is said in words, without a stack trace."""
    try:
        cli(standalone_mode=False)
    except TidyTinderError as error:
        _say(error)
    except click.exceptions.Abort:
        raise SystemExit(130) from None
    except click.ClickException as error:
        error.show()
        raise SystemExit(error.exit_code) from None
    except Exception as error:
        trouble = _trouble_in(error)
        if trouble is None:
            raise
        _say(trouble)


def _trouble_in(error: Exception) -> TidyTinderError | None:
    from tidy_tinder.storage.trouble import trouble_in  # noqa: PLC0415 -- loads SQLAlchemy, which most calls never need

    return trouble_in(error)


def _say(error: TidyTinderError) -> NoReturn:
    click.echo(f"{error.title}. {error.detail}", err=True)
    raise SystemExit(1) from None


@click.group(cls=_LoadedWhenCalled)
@click.version_option(package_name="tidy-tinder")
def cli() -> None:
    """Which of my coloured pencils comes closest, on this paper, and what will be off?"""
