"""What is to be minded where a step names solvent, spray, a blade or dust.

Common practice, no source; it does not replace a label, a data sheet or a rule that holds where one lives.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from tidy_tinder.core.vocabulary import Material

FIRST = "The product’s label, its safety data sheet and your local rules come first."


@dataclass(frozen=True)
class Caution:
    """What is to be minded with one material."""

    material: Material
    words: str


_WORDS: Mapping[Material, str] = MappingProxyType(
    {
        Material.SOLVENT: "Fresh air, no flames, gloves, the lid closed. Oily rags can catch fire by themselves: into "
        "a closed metal container with water, and to where such waste is taken.",
        Material.SPRAY: "Outdoors or in a booth, with a respirator made for it; no flames, nobody beside you.",
        Material.BLADE: "A sharp blade, its guard on when it lies down; cut away from the hand that holds the sheet.",
        Material.DUST: "Wipe dust up with a damp cloth, never blow it; do not eat beside it, and wash your hands. Some "
        "pigments hold heavy metals.",
    }
)


def cautions_for(materials: Iterable[Material]) -> tuple[Caution, ...]:
    """What is to be minded with these, each once, in a fixed order."""
    named = set(materials)
    return tuple(Caution(material, words) for material, words in _WORDS.items() if material in named)
