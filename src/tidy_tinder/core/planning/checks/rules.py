"""All checks, in the order in which their findings are told."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping
from types import MappingProxyType

from tidy_tinder.core.planning.checks.closed_too_early import closed_too_early
from tidy_tinder.core.planning.checks.darkest_first import darkest_first
from tidy_tinder.core.planning.checks.darkest_missed import darkest_missed
from tidy_tinder.core.planning.checks.facts import CheckedRecipe
from tidy_tinder.core.planning.checks.finding import Finding, Rule
from tidy_tinder.core.planning.checks.graphite_under_pale import graphite_under_pale
from tidy_tinder.core.planning.checks.light_over_dark import light_over_dark
from tidy_tinder.core.planning.checks.not_dry import not_dry
from tidy_tinder.core.planning.checks.opaque_glaze import opaque_glaze
from tidy_tinder.core.planning.checks.paper_without_solvent import paper_without_solvent
from tidy_tinder.core.planning.checks.resist_too_late import resist_too_late
from tidy_tinder.core.planning.checks.same_to_the_eye import same_to_the_eye
from tidy_tinder.core.planning.checks.thin_for_solvent import thin_for_solvent
from tidy_tinder.core.planning.checks.too_many_layers import too_many_layers
from tidy_tinder.core.planning.checks.will_fade import will_fade

RULES: Mapping[Rule, Callable[[CheckedRecipe], Iterator[Finding]]] = MappingProxyType(
    {
        Rule.PAPER_WITHOUT_SOLVENT: paper_without_solvent,
        Rule.THIN_FOR_SOLVENT: thin_for_solvent,
        Rule.NOT_DRY: not_dry,
        Rule.TOO_MANY_LAYERS: too_many_layers,
        Rule.CLOSED_TOO_EARLY: closed_too_early,
        Rule.RESIST_TOO_LATE: resist_too_late,
        Rule.LIGHT_OVER_DARK: light_over_dark,
        Rule.OPAQUE_GLAZE: opaque_glaze,
        Rule.DARKEST_FIRST: darkest_first,
        Rule.DARKEST_MISSED: darkest_missed,
        Rule.GRAPHITE_UNDER_PALE: graphite_under_pale,
        Rule.SAME_TO_THE_EYE: same_to_the_eye,
        Rule.WILL_FADE: will_fade,
    }
)


def check(recipe: CheckedRecipe, off: Collection[Rule] = ()) -> tuple[Finding, ...]:
    """All that the checks find, but for those that are switched off."""
    return tuple(finding for rule, look in RULES.items() if rule not in off for finding in look(recipe))
