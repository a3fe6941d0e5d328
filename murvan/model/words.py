"""Turns a validation failure into one sentence that names the place in the user's words."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

FIELD_WORDS = {
    "outline_m": "outline",
    "u_w_m2k": "U-factor",
    "shgc": "SHGC",
    "height_m": "height",
    "width_m": "width",
    "diameter_m": "diameter",
    "offset_m": "place along the wall",
    "sill_m": "sill height",
    "ach50": "air changes at 50 Pa",
    "winter_c": "winter design temperature",
    "summer_c": "summer design temperature",
    "flow_m3_s": "air flow",
    "path_m": "path",
    "thickness_m": "thickness",
    "conductivity_w_mk": "conductivity",
    "r_m2k_w": "R-value",
    "framing_r_m2k_w": "R-value of the framing",
    "latitude_deg": "latitude",
    "altitude_m": "altitude",
    "people": "people",
    "position_m": "position",
    "heating_c": "heating setpoint",
    "cooling_c": "cooling setpoint",
    "cooling_rh": "indoor humidity",
    "format_version": "format version",
    "damper": "damper opening",
    "free_area": "free area",
    "mca_a": "MCA",
    "mop_a": "MOP",
    "nominal_w": "nominal capacity",
    "sound_dba": "sound",
}
UNIT_ENDS = frozenset(["m", "m2", "m3", "s", "w", "c", "k", "pa", "kg", "j", "kgk", "m2k", "mk", "deg", "h"])
MESSAGE_WORDS = {
    "missing": "is missing",
    "extra_forbidden": "is not a field Murvan knows",
    "float_parsing": "is not a number",
    "float_type": "is not a number",
    "int_parsing": "is not a whole number",
    "finite_number": "is not a number",
    "string_type": "is not a text",
    "tuple_type": "is not a list",
    "string_too_short": "is empty",
    "string_pattern_mismatch": "may hold letters, figures, '.', '_' and '-' alone",
    "unexpected_keyword_argument": "is not a field Murvan knows",
    **dict.fromkeys(("missing_argument", "missing_keyword_only_argument"), "is missing"),
    **dict.fromkeys(("int_type", "int_from_float", "int_parsing_size"), "is not a whole number"),
    **dict.fromkeys(("bool_type", "bool_parsing"), "is not yes or no"),
    **dict.fromkeys(("dict_type", "model_type", "model_attributes_type", "dataclass_type"), "is not a record"),
}
LENGTH_WORDS = {
    "string_too_long": "is longer than {max_length} letters",
    "too_long": "has more than {max_length} entries",
    "too_short": "has fewer than {min_length} entries",
}


def first_problem(exc: ValidationError, raw: Any, fallback: str = "Job") -> str:
    """One sentence for the first fault of a validation, such as 'Bedroom 2, height must be above 1.5.'"""
    error = exc.errors(include_url=False)[0]
    place = _place(error["loc"], raw) or fallback
    if error["type"] == "value_error":
        return f"{place}: {_what(error)}."
    loc = (*error["loc"], error["ctx"]["field"]) if error["type"] == "next_to_nothing" else error["loc"]
    return f"{place}{_field(loc)}{_what(error)}."


def _place(loc: tuple[Any, ...], raw: Any) -> str:
    """The names found on the way to the fault."""
    names: list[str] = []
    at = raw
    for step in loc:
        try:
            at = at[step] if not hasattr(at, "model_fields") else getattr(at, step)
        except (KeyError, IndexError, TypeError, AttributeError):
            break
        for key in ("name", "tag", "id"):
            value = at.get(key) if isinstance(at, dict) else getattr(at, key, None)
            if isinstance(value, str) and value and not isinstance(at, str):
                names.append(value)
                break
    return ", ".join(names)


def _field(loc: tuple[Any, ...]) -> str:
    words = [str(s) for s in loc if isinstance(s, str)]
    if not words:
        return ": "
    last = words[-1]
    text = FIELD_WORDS.get(last) or _without_unit(last)
    index = next((s for s in reversed(loc) if isinstance(s, int)), None)
    if index is not None and len(words) == 1:
        return f" {text} {index + 1}: "
    return f", {text} "


def _without_unit(field: str) -> str:
    """A field's name as words, its unit left away."""
    words = field.split("_")
    while len(words) > 1 and words[-1] in UNIT_ENDS:
        words.pop()
    return " ".join(words)


def _what(error: Any) -> str:
    kind, context, given = error["type"], error.get("ctx", {}), error.get("input")
    if kind in MESSAGE_WORDS:
        return MESSAGE_WORDS[kind]
    if kind in LENGTH_WORDS:
        return LENGTH_WORDS[kind].format(**context)
    limits = {
        "greater_than": ("above", "gt"),
        "greater_than_equal": ("at least", "ge"),
        "less_than": ("below", "lt"),
        "less_than_equal": ("at most", "le"),
    }
    if kind in limits:
        word, key = limits[kind]
        return f"must be {word} {context[key]:g}, not {_short(given)}"
    if kind == "next_to_nothing":
        return f"of {context['given']:g} is too small to be meant"
    if kind == "literal_error":
        return f"must be one of {context['expected']}, not {_short(given)}"
    if kind == "value_error":
        return str(context["error"])
    return str(error["msg"])[:1].lower() + str(error["msg"])[1:]


def _short(value: Any) -> str:
    try:
        text = f"{value:g}" if isinstance(value, (int, float)) else repr(value)
    except OverflowError:  # an integer of hundreds of digits
        text = str(value)
    return text if len(text) <= 40 else text[:37] + "..."
