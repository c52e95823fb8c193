"""Derive the demo artist's collection and her swatches (called by tools/derive_demo.py).

She owns a Heron 60 set and nine single Herons, the Tallow 48, a Steadfast 20 and four singles, and an old
Scholar 24. She has swatched nearly all of it on vellum board, a third on buff sanded card, twelve pencils
on toned paper; and, at a drawing day, some colours of a friend's that her recipes ask for.
"""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable
from datetime import date, timedelta
from pathlib import Path

import numpy as np

from tidy_tinder.devices.simulated_reader import Placed, measure
from tidy_tinder.devices.truth.world import TrueWorld

DATA = Path(__file__).parents[1] / "src/tidy_tinder/demo/data"

OWNED_SETS = ("Heron 60", "Tallow 48", "Steadfast 20", "Scholar 24")
SINGLES = {
    "Heron": "101 107 119 123 125 163 171 192 209",
    "Steadfast": "1080 1200 1240 1640",
}
SPARES = "Heron 119, Heron 213, Tallow M39, Tallow M93, Steadfast 1040"
STUBS = {
    "Heron 111": 41, "Heron 122": 36, "Tallow M04": 38, "Scholar 01": 33, "Scholar 20": 44, "Scholar 39": 29,
    "Scholar 45": 40,
}  # fmt: skip
LOST = "Heron 145, Tallow M61"
WORN = "Scholar 37"
FULL_LENGTH = {"Heron": 176, "Tallow": 172, "Steadfast": 178, "Scholar": 170}
TINS = {"Heron": "tin 2", "Tallow": "tin 1", "Steadfast": "roll", "Scholar": "jar"}
UNSWATCHED = "Heron 117, Heron 180, Tallow M69, Tallow M77, Steadfast 1490, Scholar 41, Scholar 37"
TONED = (
    "Heron 103, Heron 119, Heron 147, Heron 160, Heron 176, Heron 213, Heron 211, Tallow M39, Tallow M81, "
    "Tallow M93, Steadfast 1200, Steadfast 1330"
)
FRIENDS_VELLUM = (
    "Heron 104, Heron 109, Heron 126, Heron 131, Heron 133, Heron 139, Heron 141, Heron 159, Heron 165, "
    "Heron 173, Heron 177, Heron 178, Heron 188, Heron 191, Heron 195, Heron 196, Heron 203, Heron 206, "
    "Heron 212, Tallow M09, Tallow M12, Tallow M18, Tallow M33, Tallow M36, Tallow M62"
)
FRIENDS_BUFF = "Heron 126, Heron 133, Heron 159, Heron 173, Heron 177, Heron 188, Heron 212, Tallow M12, Tallow M33"
PRESSURES = ("light", "medium", "heavy")
FIRST_DAY = date(2026, 3, 2)


def _keys(text: str) -> list[str]:
    return [k.strip() for k in text.split(",")]


def _write(name: str, header: list[str], rows: Iterable[Iterable[object]]) -> None:
    with (DATA / name).open("w", encoding="utf-8", newline="") as handle:
        writer = csv.writer(handle, lineterminator="\n")
        writer.writerow(header)
        writer.writerows(rows)


def pencils() -> list[list[object]]:
    """One row a pencil: range, code, where from, place, slot, length, state, stamp."""
    with (DATA / "sets.csv").open(encoding="utf-8") as handle:
        sets = {row["set"]: (row["range"], row["codes"].split()) for row in csv.DictReader(handle)}
    rng = np.random.default_rng(7)
    rows: list[list[object]] = []
    slots: dict[str, int] = {}
    owned = [(sets[name][0], code, name) for name in OWNED_SETS for code in sets[name][1]]
    owned += [(line, code, "") for line, codes in SINGLES.items() for code in codes.split()]
    for line, code, bought in owned:
        key = f"{line} {code}"
        slots[line] = slots.get(line, 0) + 1
        worn_down = rng.uniform(0.45, 0.98) if line != "Scholar" else rng.uniform(0.32, 0.6)
        length = STUBS.get(key, round(FULL_LENGTH[line] * float(worn_down)))
        state = "lost" if key in _keys(LOST) else "in_use"
        rows.append([line, code, bought, TINS[line], slots[line], length, state, "no" if key == WORN else "yes"])
    for key in _keys(SPARES):
        line, code = key.split()
        slots[line] += 1
        rows.append([line, code, "", TINS[line], slots[line], FULL_LENGTH[line], "spare", "yes"])
    return rows


def swatches(world: TrueWorld, owned: list[str]) -> list[list[object]]:
    """One row a swatch, as the simulated reader saw it, in the order in which she made them."""
    vellum = [k for k in owned if k not in _keys(UNSWATCHED)]
    # A third of the owned, spread over the whole tidy: every third by the order of the tins.
    buff = vellum[::3]
    plan: list[tuple[str, str, str, bool]] = []
    plan += [(k, "Vellum board", p, False) for k in vellum for p in PRESSURES]
    plan += [(k, "Vellum board", p, False) for k in _keys(FRIENDS_VELLUM) for p in PRESSURES]
    plan += [(k, "Vellum board", "heavy", True) for k in vellum[::8]]
    for number, key in enumerate(buff):
        plan += [(key, "Buff sanded card", p, False) for p in (PRESSURES if number % 4 else ("heavy",))]
    plan += [(k, "Buff sanded card", p, False) for k in _keys(FRIENDS_BUFF) for p in PRESSURES]
    plan += [(k, "Grey-toned sketch paper", p, False) for k in _keys(TONED) for p in PRESSURES]
    rows: list[list[object]] = []
    for number, (key, paper, pressure, over_black) in enumerate(plan):
        seen = measure(world, Placed(paper, ((key, pressure),), over_black=over_black))
        line, code = key.split()
        spectrum = " ".join(f"{v:.4f}" for v in seen.reflectance)
        day = FIRST_DAY + timedelta(days=number // 60)
        lab = [round(float(v), 2) for v in seen.lab]
        rows.append([line, code, paper, pressure, 1, "dry", "black" if over_black else "paper", *lab, day, spectrum])
    return rows


PAPERS = (
    # name, kind, tooth, most layers, absorbent, stands solvent, notes
    ("Vellum board", "vellum-surface board, natural white", "medium", 9, False, True),
    ("Hot-pressed board", "smooth hot-pressed board, white", "smooth", 5, False, True),
    ("Cotton print paper", "soft cotton print paper, warm white", "medium", 7, True, False),
    ("Buff sanded card", "buff sanded card", "rough", 14, False, True),
    ("Grey-toned sketch paper", "grey-toned sketch paper", "medium", 6, False, False),
    ("Black paper", "black paper", "medium", 6, False, False),
)


def papers(world: TrueWorld) -> list[dict[str, object]]:
    """The papers of Lorne Mill, their own colour as the reader saw it bare."""
    rows: list[dict[str, object]] = []
    for name, kind, tooth, layers, absorbent, solvent in PAPERS:
        lab = measure(world, Placed(name, ())).lab
        rows.append({
            "name": name, "mill": "Lorne Mill", "kind": kind, "lab": [round(float(v), 2) for v in lab],
            "tooth": tooth, "most_layers": layers, "absorbent": absorbent, "stands_solvent": solvent,
        })  # fmt: skip
    return rows


def write_collection(world: TrueWorld) -> None:
    """Write pencils.csv, papers.json and swatches.csv."""
    rows = pencils()
    _write("pencils.csv", ["range", "code", "set", "tin", "slot", "length", "state", "stamp"], rows)
    (DATA / "papers.json").write_text(json.dumps(papers(world), indent=1) + "\n", encoding="utf-8")
    owned = list(dict.fromkeys(f"{r[0]} {r[1]}" for r in rows))
    header = [
        "range",
        "code",
        "paper",
        "pressure",
        "layers",
        "finish",
        "over",
        "L",
        "a",
        "b",
        "made_on",
        "spectrum",
    ]
    _write("swatches.csv", header, swatches(world, owned))
