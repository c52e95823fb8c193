"""More that the random artist does: papers, charts, sessions, scraps, fade tests, the bench, recipes, pictures."""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import Any, Protocol

from tidy_tinder.core.vocabulary import MARK_PRESSURES, FadeHalf, FadePlace, Tooth, Verdict

_STARTED, _READ = "2026-02-01", "2026-05-01"


class Asking(Protocol):
    """Whoever asks the server, by a random generator of her own."""

    rng: random.Random

    def ask(self, method: str, path: str, body: object = None, may_be_refused: bool = False) -> Any:
        """What is answered, None where it was refused."""


def make_paper(artist: Asking) -> None:
    rng = artist.rng
    lab = [rng.uniform(60, 97), rng.uniform(-4, 4), rng.uniform(-4, 12)]
    body = {"name": f"Sheet {rng.randint(1, 99)}", "lab": lab, "tooth": rng.choice(list(Tooth)), "most_layers": 8}
    artist.ask("POST", "/api/papers", body, may_be_refused=True)


def give_paper_up(artist: Asking) -> None:
    papers = artist.ask("GET", "/api/papers")["papers"]
    if len(papers) > 6:
        artist.ask("DELETE", f"/api/papers/{papers[-1]['id']}", may_be_refused=True)


def chart(artist: Asking) -> None:
    """A range of her own with one colour in it."""
    made = artist.ask("POST", "/api/ranges", {"name": f"Odd {artist.rng.randint(1, 30)}"}, may_be_refused=True)
    if made is not None:
        shelves = artist.ask("GET", "/api/tidy?paper=1")["shelves"]
        body = {"code": "1", "name": "One", "lab": [50.0, 10.0, 10.0]}
        artist.ask("POST", f"/api/ranges/{max(of['range_id'] for of in shelves)}/colours", body, may_be_refused=True)


def begin_swatching(artist: Asking) -> None:
    some = artist.rng.sample(range(1, 401), 3)
    body = {"paper_id": 1, "which": "chosen", "colour_ids": some, "pressures": ["heavy"], "only_missing": False}
    artist.ask("POST", "/api/swatching", body, may_be_refused=True)


def price(artist: Asking) -> None:
    body = {"colour_id": artist.rng.randint(1, 400), "amount": artist.rng.choice([None, 1.5, 2.25])}
    artist.ask("PUT", "/api/restock/prices", body, may_be_refused=True)


def lay_on_scrap(artist: Asking) -> None:
    coats = [_coat(artist.rng) for _ in range(artist.rng.randint(1, 3))]
    artist.ask("POST", "/api/scraps", {"paper_id": 1, "laid": coats}, may_be_refused=True)


def judge_scrap(artist: Asking) -> None:
    scraps = artist.ask("GET", "/api/scraps?paper=1")["scraps"]
    if scraps:
        one = artist.ask("GET", f"/api/scraps/{artist.rng.choice(scraps)['id']}")
        body = {"verdict": [artist.rng.choice(list(Verdict))], "note": "so", "revision": one["revision"]}
        artist.ask("PUT", f"/api/scraps/{one['id']}", body, may_be_refused=True)


def fade(artist: Asking) -> None:
    rng = artist.rng
    strips = artist.ask("GET", "/api/fade-strips")["strips"]
    if not strips or rng.random() < 0.4:
        marks = [{"colour": rng.randint(1, 400)} for _ in range(2)]
        body = {"name": "Strip", "paper_id": 1, "place": rng.choice(list(FadePlace)), "begun_on": _STARTED,
                "marks": marks}  # fmt: skip
        artist.ask("POST", "/api/fade-strips", body, may_be_refused=True)
        return
    strip = rng.choice(strips)
    if rng.random() < 0.2:
        artist.ask("DELETE", f"/api/fade-strips/{strip['id']}", may_be_refused=True)
    elif strip["marks"]:
        body = {"half": rng.choice(list(FadeHalf)), "read_on": _READ, "lab": [50.0, rng.uniform(-9, 9), 5.0]}
        artist.ask("PUT", f"/api/fade-marks/{strip['marks'][0]['id']}/half", body, may_be_refused=True)


def note_at_bench(artist: Asking) -> None:
    drawing = artist.ask("GET", "/api/collection")["drawing"]
    if drawing is not None:
        key = f"k{artist.rng.random()}"
        entry = {"key": key, "colour_id": artist.rng.randint(1, 400), "layers": 1, "pressure": "light"}
        artist.ask("POST", f"/api/drawings/{drawing['id']}/log", {"entries": [entry]}, may_be_refused=True)


def leave_out(artist: Asking) -> None:
    """One pencil is not to stand in for a call."""
    call = call_of(artist)
    if call is not None:
        body = {"paper_id": 1, "colour_id": artist.rng.randint(1, 400), "excluded": artist.rng.random() < 0.7}
        artist.ask("PUT", f"/api/calls/{call['id']}/exclusion", body, may_be_refused=True)


def lay_otherwise(artist: Asking) -> None:
    """A call asks for more layers than before."""
    call = call_of(artist)
    if call is not None:
        body = {"layers": artist.rng.randint(1, 4), "pressure": artist.rng.choice(MARK_PRESSURES)}
        artist.ask("PUT", f"/api/calls/{call['id']}/asked", body, may_be_refused=True)


def keep_version(artist: Asking) -> None:
    recipes = artist.ask("GET", "/api/recipes?paper=1")["recipes"]
    path = f"/api/recipes/{artist.rng.choice(recipes)['id']}/versions"
    artist.ask("POST", path, {"name": "Before"}, may_be_refused=True)


def pick(artist: Asking) -> None:
    """A colour out of the first picture that some drawing has."""
    drawings = artist.ask("GET", "/api/drawings")["drawings"]
    for reference in [one for drawing in drawings for one in drawing["references"]][:1]:
        body = {"x": artist.rng.random(), "y": artist.rng.random(), "radius": 12}
        artist.ask("POST", f"/api/references/{reference}/picks", body, may_be_refused=True)


def _coat(rng: random.Random) -> dict[str, object]:
    return {"colour_id": rng.randint(1, 400), "pressure": rng.choice(MARK_PRESSURES), "layers": 1}


def call_of(artist: Asking) -> dict[str, Any] | None:
    """Any call of any recipe; None where the recipe has none."""
    recipes = artist.ask("GET", "/api/recipes?paper=1")["recipes"]
    steps = artist.ask("GET", f"/api/recipes/{artist.rng.choice(recipes)['id']}?paper=1")["steps"]
    calls = [call for step in steps for call in step["calls"]]
    return artist.rng.choice(calls) if calls else None


STATIONS: tuple[Callable[[Asking], None], ...] = (
    make_paper, give_paper_up, chart, begin_swatching, price, lay_on_scrap, judge_scrap, fade, note_at_bench, leave_out,
    lay_otherwise, keep_version, pick,
)  # fmt: skip
