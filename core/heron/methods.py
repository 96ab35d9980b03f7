"""A methods paragraph: what was read, what was decided on it, what was computed and how, with what, after whom."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from heron.choices import Use
from heron.formatting import counted, grouped
from heron.sources import cited, short


@dataclass(frozen=True)
class Decided:
    """A decision that stands. kind: "set-aside", "correct", "describe", "derive", "reread" or another; rows: how many;
    words: of what, in a sentence; reason: as it was given."""

    number: int
    kind: str
    rows: int
    words: str
    reason: str


@dataclass(frozen=True)
class TableUsed:
    """A table as it stands. source: the name of its file, or how it was made; digest: SHA-256 of the file, "" for none;
    missing: (code, how many values) over the variables used."""

    name: str
    source: str
    digest: str
    n_rows: int
    n_variables: int
    missing: tuple[tuple[str, int], ...]
    decided: tuple[Decided, ...]
    derived: tuple[str, ...]


@dataclass(frozen=True)
class Methods:
    """paragraphs: data, analyses, software; citations: in the order of their authors."""

    paragraphs: tuple[str, ...]
    citations: tuple[str, ...]

    def markdown(self, title: str) -> str:
        listed = "".join(f"- {citation}\n" for citation in self.citations)
        return f"# {title}\n\n" + "\n\n".join(self.paragraphs) + ("\n\n## References\n\n" + listed if listed else "\n")


# What a method is, for a paper, and who described it.
MEANT: dict[str, tuple[str, tuple[str, ...]]] = {
    "bandwidth-set": ("densities have a {kernel} kernel of SD {width}", ()),
    "classes-set": ("classes of histograms were set by hand", ()),
    "units": ("values of one {unit} were averaged first, so that n counts each once", ()),
    "components": (
        "how much values of one unit resemble each other was judged by the intraclass correlation, by restricted "
        "maximum likelihood",
        ("patterson-thompson-1971", "kish-1965"),
    ),
    "robust": (
        "limits of coefficients that hold where spreads differ rest on HC3 standard errors",
        ("mackinnon-white-1985", "long-ervin-2000"),
    ),
    "partial": (
        "how closely the response goes with a predictor, the others given, was judged by the partial correlation",
        (),
    ),
    "capability": (
        "capability was judged by Cp and Cpk from the spread within subgroups, and by Pp and Ppk from all values",
        ("bissell-1990",),
    ),
    "detection": (
        "means and SDs of values of which some lie below a limit are those of Kaplan and Meier's estimate",
        ("kaplan-meier-1958", "helsel-2012"),
    ),
    "pairs-hexagons": ("pairs are counted in hexagons, {across} across", ("carr-1987",)),
    "pairs-cells": ("pairs are counted in the cells of a grid", ()),
    "pairs-counts": ("pairs are counted at their places", ()),
    "pairs-density": ("densities of pairs have normal kernels{width}", ("scott-1992",)),
    "pairs-contours": (
        "areas enclose shares of the pairs by their density, with normal kernels{width}",
        ("scott-1992", "hyndman-1996"),
    ),
    "agreement": (
        "agreement of methods was judged by the mean difference and the limits of agreement, with {level} intervals",
        ("bland-altman-1986", "bland-altman-1999"),
    ),
    "association": (
        "whether answers go with groups was judged by chi-square, and how closely by Cramér's V without its bias",
        ("pearson-1900", "bergsma-2013"),
    ),
    "chi-square": ("whether shares differ was judged by chi-square", ("pearson-1900",)),
    "exact": ("where too few rows were expected, shares were judged by an exact test", ("fisher-1935",)),
    "quantile-plot": (
        "normality was judged by quantile plots with simultaneous bands, and by W",
        ("aldor-noiman-2013", "blom-1958", "royston-1995"),
    ),
    "distances": (
        "robust distances rest on the minimum covariance determinant",
        ("rousseeuw-van-driessen-1999", "hardin-rocke-2005"),
    ),
    "inflation": (
        "what predictors share was judged by the inflation of the variances of their coefficients",
        ("fox-monette-1992",),
    ),
    "influence": ("influence was measured by deletion", ("belsley-1980", "cook-1977")),
}


def methods_section(tables: Sequence[TableUsed], uses: Sequence[Use], software: Mapping[str, str]) -> Methods:
    """Return the methods paragraph of tables and of the methods used on them.

    Parameters: tables as they stand; uses in the order of their plates, said once each; software: versions by name.
    """
    paragraphs = [_data(table) for table in tables]
    told = list(dict.fromkeys(uses))
    sentences = [_sentence(use) for use in told]
    if sentences:
        paragraphs.append(" ".join(sentences))
    names = ", ".join(f"{name} {version}" for name, version in software.items())
    paragraphs.append(f"Computed with {names}.")
    keys = dict.fromkeys(key for use in told for key in use.sources)
    return Methods(tuple(paragraphs), tuple(sorted(map(cited, keys))))


def meant(key: str, **settings: str) -> Use:
    """A method in use that is no choice among several, by its key in MEANT."""
    words, sources = MEANT[key]
    return Use(words.format_map(settings), sources)


def _sentence(use: Use) -> str:
    after = f" ({'; '.join(map(_named, use.sources))})" if use.sources else ""
    return f"{use.clause[:1].upper()}{use.clause[1:]}{after}."


def _named(key: str) -> str:
    """A source within brackets: Hyndman and Fan 1996."""
    return short(key).replace(" (", " ").rstrip(")")


def _data(table: TableUsed) -> str:
    digest = f", SHA-256 beginning {table.digest[:12]}" if table.digest else ""
    variables = counted(table.n_variables, "variable")
    said = [f"{table.name}: {counted(table.n_rows, 'row')} of {variables}, {table.source}{digest}."]
    if table.missing:
        listed = ", ".join(f"{code} {grouped(n)}" for code, n in table.missing)
        said.append(f"Missing values by code: {listed}.")
    else:
        said.append("No value is missing.")
    said += _aside([decision for decision in table.decided if decision.kind == "set-aside"])
    for decision in table.decided:
        if decision.kind != "set-aside":
            why = f" ({decision.reason})" if decision.reason else ""
            said.append(f"{decision.words[:1].upper()}{decision.words[1:]}{why} (Ledger {decision.number}).")
    said += [f"{sentence[:1].upper()}{sentence[1:]}." for sentence in table.derived]
    return " ".join(said)


def _aside(decided: Sequence[Decided]) -> list[str]:
    if not decided:
        return ["No row was set aside."]
    by_reason: dict[str, list[Decided]] = {}
    for decision in decided:
        by_reason.setdefault(decision.reason, []).append(decision)
    parts: list[Any] = []
    for reason, decisions in by_reason.items():
        entries = ", ".join(str(decision.number) for decision in decisions)
        parts.append(
            f"{'; '.join(decision.words for decision in decisions)} as \u201c{reason}\u201d (Ledger {entries})"
        )
    return [f"Set aside: {'; '.join(parts)}."]
