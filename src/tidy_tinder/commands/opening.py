"""The collection of the folder that a command was given, made or brought up to date where that is needed."""

from __future__ import annotations

import click

from tidy_tinder.services.background.runtime import Collection, open_collection
from tidy_tinder.services.collection.context import begin_collection
from tidy_tinder.settings import Settings
from tidy_tinder.storage.lock import only_program
from tidy_tinder.storage.making import is_ready


def open_for(settings: Settings) -> Collection:
    """The collection, ready to use: a new one gets its first paper, a new demo its data.

    Only the program that holds the lock may call it where the collection is not ready.
    """

    def begin(collection: Collection) -> None:
        if settings.demo:
            from tidy_tinder.demo.loader import load_demo  # noqa: PLC0415 -- only the first start of the demo needs it

            click.echo("Loading the demo …", err=True)
            load_demo(collection)
        begin_collection(collection)

    collection = open_collection(settings.database, begin=begin)
    begin_collection(collection)  # one without a paper was left by an earlier version
    return collection


def open_for_reading(settings: Settings) -> Collection:
    """The collection, which another program may be serving; only one may make it or bring it up to date."""
    if not is_ready(settings.database):
        with only_program(settings.database, "making the collection ready"):
            open_for(settings).close()
    return open_for(settings)
