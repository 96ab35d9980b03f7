"""Specifications of version 1, read as what they are now: each panel's question was kept beside its kind then."""

from typing import Any

_QUESTIONS = {"cumulative": "shape"}
_BESIDE = {
    "shape": ("layers", "measure"), "counts": ("measure",), "shares": ("stacked",), "estimates": ("combined", "none"),
    "pair": ("also", "size", "shown", "across", "bands", "joined"), "influence": ("view", "row_measure", "coefficient"),
}  # fmt: skip
_ROLES = {"groups": ("by",), "shares": ("by",), "differences": ("by",), "pair": ("x", "y"), "influence": ("response",)}
_SEVERAL = {"estimates": ("of",), "distances": ("variables",), "influence": ("predictors",)}
_WITHOUT_VARIABLE = ("estimates", "pair", "distances", "influence")
# Of a shape's question, what each kind draws.
_TAKEN = {
    "shape": (
        "by", "axis", "rule", "count", "width", "start", "boundaries", "closed", "bandwidth", "kernel",
        "quantile_definition", "reach", "whiskers", "share", "level",
    ),
    "cumulative": ("by",),
}  # fmt: skip


def as_now(document: Any) -> Any:
    """A specification as it is kept now; one of this version, or what is none, as it is."""
    if not isinstance(document, dict) or document.get("version") != 1 or not isinstance(document.get("panels"), list):
        return document
    panels = [
        {**panel, "source": _source(panel["source"])}
        if isinstance(panel, dict) and isinstance(panel.get("source"), dict)
        else panel
        for panel in document["panels"]
    ]
    return {**document, "version": 2, "panels": panels}


def _source(written: dict[str, Any]) -> dict[str, Any]:
    kind = str(written.get("kind"))
    question = written.get(_QUESTIONS.get(kind, kind)) or {}
    found = {"table": written.get("table"), "kind": kind, "only": written.get("only")}
    if kind not in _WITHOUT_VARIABLE:
        found |= {"variable": written.get("variable", ""), "as_if": written.get("as_if")}
    if kind == "quantiles":
        normal = written.get("normal") or {}
        level = normal.get("level", question.get("level", 0.95))
        return {**found, "family": question.get("family", "normal"), "level": level, "by": normal.get("by", "")}
    taken = _TAKEN.get(kind, tuple(question))
    found |= {name: question[name] for name in taken if name in question}
    found |= {name: written[name] for name in _BESIDE.get(kind, ()) if name in written}
    if kind == "groups":
        found |= written.get("drawn") or {}
    # One that an earlier version took without its question shows nothing, and says so.
    return {**dict.fromkeys(_ROLES.get(kind, ()), ""), **{name: [] for name in _SEVERAL.get(kind, ())}, **found}
