"""Make the demo data of "Ellery Sound", always the same: python -m demo.generate

Every name and number is invented. What was planted (mistakes, an influential row, honest extremes, missing codes) is
listed in truth.json, by record number counted from 1, so that a reader or a test can tell whether it was found.
"""

import csv
import json
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

FOLDER = Path(__file__).parent
SEED = 20_260_519


def oyster_nursery(rng: np.random.Generator, truth: dict[str, Any]) -> list[list[Any]]:
    n = 416
    weeks = np.repeat([0, 6, 12, 18], n // 4)
    trays = rng.permuted(np.array(["mesh", "slotted", "basket"])[np.arange(n) % 3])
    gain = np.select([trays == "mesh", trays == "slotted"], [1.0, 0.92], 1.12)
    length = rng.normal(38 + 1.35 * weeks * gain, 4.6 + 0.12 * weeks)
    length = np.round(np.clip(length, 24, None), 1)
    width = np.round(length * rng.normal(0.63, 0.03, n) + rng.normal(0, 0.7, n), 1)
    mass = 0.00021 * length**2.78 * np.exp(rng.normal(0, 0.31, n))
    condition = np.round(np.exp(rng.normal(np.log(8.6), 0.24, n)), 2)
    holes = rng.negative_binomial(0.9, 0.45, n)
    vigour = np.clip(np.rint(3.3 + 0.5 * (gain - 1) * 10 / 3 + rng.normal(0, 0.95, n)), 1, 5).astype(int)
    salinity = np.round(32.1 - rng.gamma(1.6, 0.75, n) + 0.02 * weeks, 1)
    mass = np.round(mass, 2)

    big = rng.choice(np.arange(330, n), 2, replace=False)
    length[big] += [14.2, 12.6]
    mass[big] = np.round(0.00021 * length[big] ** 2.78 * [1.85, 2.1], 2)
    width[big] = np.round(length[big] * 0.63, 1)
    shell = {
        "tag": [f"EL-{1000 + 7 * i % 9000:04d}" for i in range(n)],
        "tray type": trays,
        "week": weeks,
        "shell length (mm)": [f"{v:.1f}" for v in length],
        "shell width (mm)": [f"{v:.1f}" for v in width],
        "shell mass (g)": [f"{v:.2f}" for v in mass],
        "condition index": [f"{v:.2f}" for v in condition],
        "drill holes (count)": [str(v) for v in holes],
        "vigour": [str(v) for v in vigour],
        "salinity (psu)": [f"{v:.1f}" for v in salinity],
    }
    slip, centimetres, wet, lever = 206, 77, 301, 411
    shell["shell length (mm)"][slip] = f"{length[slip] / 10:.2f}"
    shell["shell width (mm)"][centimetres] = f"{width[centimetres] / 10:.1f}"
    shell["shell mass (g)"][wet] = f"{mass[wet] * 5.2:.2f}"
    shell["shell length (mm)"][lever] = "96.4"
    shell["shell mass (g)"][lever] = "21.30"
    truth["oyster_nursery"] = {
        "mistakes": [
            {"row": slip + 1, "variable": "shell_length", "what": "decimal slip: a tenth of the length"},
            {"row": centimetres + 1, "variable": "shell_width", "what": "centimetres written for millimetres"},
            {"row": wet + 1, "variable": "shell_mass", "what": "weighed wet: 5.2 times the mass"},
        ],
        "influential": [{"row": lever + 1, "variables": ["shell_length", "shell_mass"], "what": "long and light"}],
        "honest_extremes": [{"row": int(row) + 1, "variable": "shell_mass"} for row in np.sort(big)],
        "missing": {},
    }
    spared = {slip, centimetres, wet, lever, *big.tolist()}
    plan = {
        "shell length (mm)": {"n/r": 5},
        "condition index": {"": 8, "n/r": 3},
        "drill holes (count)": {"": 4},
        "vigour": {"n/r": 3},
        "salinity (psu)": {"-99": 7, "": 12},
    }
    for name, codes in plan.items():
        for code, count in codes.items():
            free = [i for i in range(n) if i not in spared and shell[name][i] not in ("", "n/r", "-99")]
            rows = np.sort(rng.choice(free, count, replace=False))
            for row in rows:
                shell[name][row] = code
            truth["oyster_nursery"]["missing"].setdefault(name, {})[code or "blank"] = (rows + 1).tolist()
    return [list(shell), *map(list, zip(*shell.values(), strict=True))]


def tile_kiln(rng: np.random.Generator, truth: dict[str, Any]) -> list[list[Any]]:
    n = 180
    kiln = rng.choice(["A", "B", "C"], n, p=[0.42, 0.36, 0.22])
    shift = rng.choice(["early", "late"], n)
    base = np.select([kiln == "A", kiln == "B"], [31.5, 42.5], 37.0) + np.where(shift == "late", -0.6, 0.0)
    batch = rng.normal(base, 1.7)
    strength = np.round(batch[:, None] + rng.normal(0, 1.1, (n, 5)), 1)
    glaze = np.round(rng.normal(np.where(kiln == "B", 212, 186), 9), 0).astype(int)
    water = np.round(np.clip(12.4 - 0.21 * batch + rng.normal(0, 0.5, n), 0.4, None), 2)
    rows: list[list[Any]] = [
        ["batch", "kiln", "shift", "glaze thickness (µm)", "water absorption (%)"]
        + [f"strength {i} (MPa)" for i in range(1, 6)]
    ]
    for i in range(n):
        cells = [f"{value:.1f}" for value in strength[i]]
        if i % 29 == 11:
            cells[4] = ""
        rows.append([f"T{i + 1:03d}", kiln[i], shift[i], glaze[i], f"{water[i]:.2f}", *cells])
    truth["tile_kiln"] = {"two_peaks": {"variables": "strength_1 to strength_5", "kilns": ["A", "B"]}}
    return rows


def night_bus(rng: np.random.Generator, truth: dict[str, Any]) -> list[list[Any]]:
    n = 10_400
    names = ["Quayside", "Lantern Hill", "Saltmarket", "Orchard End", "Mere Park", "Old Works"]
    centres = np.array([[1.2, 0.8], [4.1, 3.6], [2.4, 1.5], [6.8, 2.2], [5.2, 6.1], [8.4, 5.0]])
    district = rng.choice(6, n, p=[0.27, 0.12, 0.23, 0.14, 0.13, 0.11])
    place = centres[district] + rng.normal(0, 1, (n, 2)) * np.array([0.35, 0.6, 0.3, 0.7, 0.5, 0.8])[district, None]
    wait = rng.gamma(1.7, 4.6, n) + 0.5
    ride = np.exp(rng.normal(np.log(16 + 1.3 * np.hypot(place[:, 0] - 2, place[:, 1] - 1)), 0.42))
    heaped = rng.random(n) < 0.46
    wait = np.where(heaped, np.maximum(5 * np.rint(wait / 5), 1), np.rint(wait)).astype(int)
    ride = np.where(rng.random(n) < 0.4, np.maximum(5 * np.rint(ride / 5), 5), np.rint(ride)).astype(int)
    age = rng.choice(["under 25", "25 to 44", "45 to 64", "65 and over"], n, p=[0.41, 0.36, 0.17, 0.06])
    liking = 6.1 - 0.11 * wait - 0.012 * ride + rng.normal(0, 1.15, n)
    satisfaction = np.clip(np.rint(liking), 1, 7).astype(int)
    silent = rng.random(n) < 0.031
    truth["night_bus"] = {"heaped_at_fives": ["wait", "ride"], "missing_satisfaction": int(silent.sum())}
    rows: list[list[Any]] = [
        ["wait (min)", "ride (min)", "satisfaction", "district", "age band", "easting (km)", "northing (km)"]
    ]
    for i in range(n):
        liked = "" if silent[i] else satisfaction[i]
        rows.append([wait[i], ride[i], liked, names[district[i]], age[i], f"{place[i, 0]:.3f}", f"{place[i, 1]:.3f}"])
    return rows


def cleaning_trials(rng: np.random.Generator, truth: dict[str, Any]) -> list[list[Any]]:
    labels = [
        *("Weekly brush", "Air drying 6 h", "Air drying 24 h", "Fresh-water dip", "Brine dip", "Lime dip", "Warm dip"),
        *(
            "Low-pressure jet",
            "High-pressure jet",
            "Tray rotation",
            "Shaded racks",
            "Deep racks",
            "Grazers",
            "All of these",
        ),
    ]
    rows: list[list[Any]] = [["label", "ratio", "lower", "upper"]]
    for label in labels:
        centre, spread = rng.normal(-0.18, 0.28), rng.uniform(0.07, 0.3)
        limits = (np.exp(centre), np.exp(centre - 1.96 * spread), np.exp(centre + 1.96 * spread))
        rows.append([label, *(f"{v:.2f}" for v in limits)])
    truth["cleaning_trials"] = {"arrive_computed": ["ratio", "lower", "upper"]}
    return rows


def tide_pair(rng: np.random.Generator, truth: dict[str, Any]) -> list[list[Any]]:
    n = 1_008
    start = datetime(2026, 3, 2)
    hours = np.arange(n) / 6

    def tide(at: np.ndarray) -> np.ndarray:
        return 1.9 * np.cos(2 * np.pi * at / 12.42) * (1 + 0.22 * np.cos(2 * np.pi * at / 354.4))

    north = 2.6 + tide(hours) + 0.05 * rng.standard_normal(n)
    south = 2.4 + 0.86 * tide(hours - 5 / 6) + 0.06 * rng.standard_normal(n)
    gaps = {"north gauge (m)": [(140, 171), (702, 706)], "south gauge (m)": [(388, 452), (871, 880)]}
    truth["tide_pair"] = {"gaps": {name: [[a + 1, b] for a, b in spans] for name, spans in gaps.items()}}
    rows: list[list[Any]] = [["time", *gaps]]
    for i in range(n):
        heights = []
        for value, spans in zip((north[i], south[i]), gaps.values(), strict=True):
            heights.append("" if any(a <= i < b for a, b in spans) else f"{value:.2f}")
        rows.append([(start + timedelta(minutes=10 * i)).strftime("%Y-%m-%d %H:%M"), *heights])
    return rows


TABLES = (oyster_nursery, tile_kiln, night_bus, cleaning_trials, tide_pair)


def main() -> None:
    truth: dict[str, Any] = {"seed": SEED}
    for number, table in enumerate(TABLES):
        rows = table(np.random.default_rng([SEED, number]), truth)
        with (FOLDER / f"{table.__name__}.csv").open("w", newline="", encoding="utf-8") as file:
            csv.writer(file, lineterminator="\n").writerows(rows)
    (FOLDER / "truth.json").write_text(json.dumps(truth, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
