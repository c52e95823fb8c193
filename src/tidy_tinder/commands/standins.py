"""Which pencils at hand come closest to a colour: in words, or as JSON."""

from __future__ import annotations

import json
from contextlib import closing
from pathlib import Path

import click

from tidy_tinder.commands.opening import open_for_reading
from tidy_tinder.commands.options import DATA, DEMO
from tidy_tinder.core.difference.priorities import Closest
from tidy_tinder.core.vocabulary import MARK_PRESSURES, Pressure
from tidy_tinder.services.standins.mark_beside_mark import RankedOffer, RankedStandins, standins_for_text
from tidy_tinder.settings import settings_for


@click.command()
@click.argument("call")
@click.option("--on", "paper", required=True, help="Name of the paper, or part of it.")
@click.option(
    "--pressure", type=click.Choice([str(p) for p in MARK_PRESSURES]), default=str(Pressure.HEAVY), show_default=True
)
@click.option("--closest", type=click.Choice([c.value for c in Closest]), default="overall", show_default=True)
@click.option("--json", "as_json", is_flag=True, help="Print JSON.")
@DEMO
@DATA
def standins(call: str, paper: str, pressure: str, closest: str, as_json: bool, demo: bool, data: Path | None) -> None:
    """Which pencils at hand come closest to CALL (code, name, or range and code)."""
    with closing(open_for_reading(settings_for(data, demo))) as collection:
        ranked = standins_for_text(collection, call, paper, Pressure(pressure), Closest(closest))
    click.echo(json.dumps(_as_dict(ranked), ensure_ascii=False, indent=1) if as_json else _as_text(ranked))


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
    unsure = offer.plus_minus is not None
    words = ", ".join(d.words) or ("as near as can be told" if unsure else "no difference to be seen")
    probably = f"probably {offer.expected:.1f}, " if unsure else ""
    return f"    {name:38} {figures}  {tie}{probably}{words}"


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
        "expected": round(offer.expected, 3),
        "plus_minus": None if offer.plus_minus is None else round(offer.plus_minus, 2),
        "tie": offer.tie,
        "delta_L": round(d.delta_L, 2),
        "delta_C": round(d.delta_C, 2),
        "delta_H": round(d.delta_H, 2),
        "words": list(d.words),
        "band": d.band.value,
    }
