"""Where the program keeps things and how it is reached; decided once at start and passed on."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import platformdirs

DEFAULT_PORT = 8731


@dataclass(frozen=True)
class Settings:
    """One start of the program: its data folder, whether it shows the demo, and the address of this computer that
    phones reach, where it is not to be found by itself.
    """

    data_dir: Path
    demo: bool = False
    phones_on: str | None = None

    @property
    def database(self) -> Path:
        """The one SQLite file of the collection."""
        return self.data_dir / "collection.sqlite"


def settings_for(data: Path | None, demo: bool) -> Settings:
    """The settings for what was asked: the user's own folder, the demo's own, or the one that was named."""
    name = "tidy-tinder-demo" if demo else "tidy-tinder"
    return Settings((data or Path(platformdirs.user_data_dir(name, appauthor=False))).resolve(), demo)
