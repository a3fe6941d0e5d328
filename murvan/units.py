"""Units at the edge: what the user types and reads. Inside Murvan everything is SI.

A `kind` names what a number is ('flow', 'length'); each kind has one IP and one SI form. Display uses the
table below; what is typed may have any unit of `WORDS`, so `8' 0"`, `96 in`, `2.44 m` and `3 ton` all work.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from math import gcd
from typing import Literal

Units = Literal["ip", "si"]


class UnitError(ValueError):
    """What was typed can't be read as this kind of quantity."""


@dataclass(frozen=True)
class Form:
    """How one kind is shown in one unit system: shown = si * factor + offset."""

    unit: str
    factor: float = 1.0
    decimals: int = 0
    offset: float = 0.0


FOOT = 0.3048
INCH = 0.0254
FPM = FOOT / 60
R_IP = 0.1761101838
"""m2K/W in one ft2·°F·h/Btu."""
BTU_H = 0.29307107017
CFM = FOOT**3 / 60
INWC = 249.08891  # conventional inch of water, 4 degC
POUND = 0.45359237
U_IP = 5.678263337
"""W/m2K in one Btu/h·ft2·°F."""
THERM_KWH = 1e5 * BTU_H / 1000
LITRE_GAL = 3.785411784
PROPANE_KWH_GAL, OIL_KWH_GAL = 91500 * BTU_H / 1000, 138500 * BTU_H / 1000
"""Heat content of a gallon, from memory."""
STACK_IP = (INCH**2 * 1e4 * 1e-3 / CFM) ** 2
"""(L/s per cm2) squared in (cfm per in2) squared."""

FORMS: dict[str, tuple[Form, Form]] = {
    "number": (Form(""), Form("")),
    "decimal": (Form("", 1, 2), Form("", 1, 2)),
    "decimal4": (Form("", 1, 4), Form("", 1, 4)),
    "ratio3": (Form("", 1, 3), Form("", 1, 3)),
    "percent": (Form("%", 100), Form("%", 100)),
    "length": (Form("ft", 1 / FOOT, 1), Form("m", 1, 2)),
    "feet": (Form("ft in", 1 / FOOT, 0), Form("m", 1, 2)),
    "size": (Form("in", 1 / INCH, 0), Form("mm", 1000, 0)),
    "size1": (Form("in", 1 / INCH, 1), Form("mm", 1000, 0)),
    "size2": (Form("in", 1 / INCH, 2), Form("mm", 1000, 1)),
    "gap": (Form("in", 1 / INCH, 2), Form("mm", 1000, 0)),
    "area": (Form("ft²", 1 / FOOT**2), Form("m²", 1, 1)),
    "small_area": (Form("in²", 1 / INCH**2), Form("cm²", 1e4)),
    "volume": (Form("ft³", 1 / FOOT**3), Form("m³", 1, 1)),
    "power": (Form("Btu/h", 1 / BTU_H), Form("W")),
    "kpower": (Form("kBtu/h", 1 / BTU_H / 1000, 1), Form("kW", 1e-3, 2)),
    "tons": (Form("ton", 1 / BTU_H / 12000, 1), Form("kW", 1e-3, 1)),
    "electric": (Form("kW", 1e-3, 1), Form("kW", 1e-3, 1)),
    "watts": (Form("W"), Form("W")),
    "line_loss": (Form("%/100 ft", 3048, 1), Form("%/10 m", 1000, 1)),
    "air_per_load": (Form("cfm a ton", 3516.85284 / CFM), Form("L/s a kW", 1e6)),
    "sound": (Form("dBA"), Form("dBA")),
    "volts": (Form("V"), Form("V")),
    "amps": (Form("A", 1, 1), Form("A", 1, 1)),
    "energy": (Form("kWh", 1 / 3.6e6), Form("kWh", 1 / 3.6e6)),
    "flow": (Form("cfm", 1 / CFM), Form("L/s", 1000)),
    "velocity": (Form("fpm", 60 / FOOT), Form("m/s", 1, 2)),
    "wind": (Form("mph", 2.2369363, 1), Form("m/s", 1, 1)),
    "pressure": (Form("in wc", 1 / INWC, 2), Form("Pa", 1)),
    "pressure3": (Form("in wc", 1 / INWC, 3), Form("Pa", 1, 1)),
    "pressure4": (Form("in wc", 1 / INWC, 4), Form("Pa", 1, 2)),
    "pascal": (Form("Pa", 1, 1), Form("Pa", 1, 1)),
    "psi": (Form("psi", 1 / 6894.757293, 1), Form("kPa", 1e-3)),
    "ppm": (Form("ppm", 1e6), Form("ppm", 1e6)),
    "microns": (Form("microns", 1 / 0.13332237), Form("Pa", 1, 1)),
    "barometer": (Form("in Hg", 1 / 3386.389, 2), Form("kPa", 1e-3, 2)),
    "friction": (Form("in wc/100 ft", 30.48 / INWC, 3), Form("Pa/m", 1, 2)),
    "temperature": (Form("°F", 1.8, 0, 32), Form("°C", 1, 1)),
    "temperature1": (Form("°F", 1.8, 1, 32), Form("°C", 1, 1)),
    "difference": (Form("°F", 1.8, 1), Form("K", 1, 1)),
    "u_factor": (Form("Btu/h·ft²·°F", 1 / 5.678263337, 3), Form("W/m²K", 1, 3)),
    "r_value": (Form("R", 5.678263337, 1), Form("m²K/W", 1, 2)),
    "r_layer": (Form("R", 5.678263337, 2), Form("m²K/W", 1, 2)),
    "ua": (Form("Btu/h·°F", 1 / BTU_H / 1.8, 1), Form("W/K", 1, 1)),
    "edge_f": (Form("Btu/h·ft·°F", FOOT / BTU_H / 1.8, 2), Form("W/m·K", 1, 2)),
    "flux": (Form("Btu/h·ft²", FOOT**2 / BTU_H, 1), Form("W/m²", 1, 1)),
    "irradiance": (Form("Btu/h·ft²", FOOT**2 / BTU_H, 0), Form("W/m²", 1, 0)),
    "air_factor": (Form("Btu/h·cfm·°F", CFM / BTU_H / 1.8, 3), Form("W/(L/s·K)", 1e-3, 3)),
    "latent_factor": (Form("Btu/h·cfm·gr/lb", CFM / BTU_H / 7000, 3), Form("W/(L/s·g/kg)", 1e-6, 3)),
    "moisture": (Form("gr/lb", 7000, 1), Form("g/kg", 1000, 1)),
    "power_per_area": (Form("Btu/h·ft²", FOOT**2 / BTU_H, 2), Form("W/m²", 1, 2)),
    "enthalpy": (Form("Btu/lb", 1 / 2326, 2), Form("kJ/kg", 1e-3, 2)),
    "mass_flow": (Form("lb/h", 3600 / POUND), Form("g/s", 1000, 1)),
    "mass": (Form("lb", 1 / POUND, 1), Form("kg", 1, 1)),
    "sheet": (Form("lb/ft²", FOOT**2 / POUND, 3), Form("kg/m²", 1, 2)),
    "charge": (Form("oz", 16 / POUND, 1), Form("g", 1000, 0)),
    "line_charge": (Form("oz/ft", 16 / POUND * FOOT, 2), Form("g/m", 1000, 0)),
    "density": (Form("lb/ft³", FOOT**3 / POUND, 4), Form("kg/m³", 1, 3)),
    "angle": (Form("°", 1, 1), Form("°", 1, 1)),
    "flow_m3": (Form("cfm", 1 / CFM), Form("m³/s", 1, 4)),
    "rough": (Form("ft", 1 / FOOT, 4), Form("mm", 1000, 2)),
    "cross": (Form("ft²", 1 / FOOT**2, 3), Form("m²", 1, 4)),
    "side": (Form("in", 1 / INCH, 1), Form("cm", 100, 1)),
    "side2": (Form("in", 1 / INCH, 2), Form("cm", 100, 2)),
    "per_100": (Form("", 100), Form("", 1)),
    "kw_of": (Form("", 3.412142, 3), Form("")),
    "cp_flow": (Form("Btu/lb·°F × 60 min", 60 / 4186.8, 3), Form("kJ/kg·K", 1e-3, 3)),
    "hfg_flow": (Form("Btu/lb × 60 min ÷ 7000", 60 / 2326 / 7000, 3), Form("MJ/kg", 1e-6, 3)),
    "hour_of_flow": (Form("", 1 / 60), Form("", 1e-3, 1)),
    "leak_area": (Form("in²/cfm", CFM / INCH**2, 5), Form("cm²/(L/s)", 10, 4)),
    "stack": (Form("cfm²/in⁴·°F", STACK_IP / 1.8, 4), Form("(L/s)²/cm⁴·K", 1, 6)),
    "wind_leak": (Form("cfm²/in⁴·mph²", STACK_IP / 2.2369363**2, 4), Form("(L/s)²/cm⁴·(m/s)²", 1, 6)),
    "hours": (Form("h"), Form("h")),
    "hours1": (Form("h", 1, 1), Form("h", 1, 1)),
    "hour": (Form("o'clock"), Form("o'clock")),
    "per_hour": (Form("per h", 1, 1), Form("per h", 1, 1)),
    "money": (Form("$"), Form("$")),
    "price": (Form("$", 1, 2), Form("$", 1, 2)),
    "work": (Form("h", 1, 3), Form("h", 1, 3)),
    "kwh": (Form("kWh"), Form("kWh")),
    "gas": (Form("therm", 1 / THERM_KWH), Form("kWh")),
    "propane": (Form("gal", 1 / PROPANE_KWH_GAL), Form("L", LITRE_GAL / PROPANE_KWH_GAL)),
    "oil": (Form("gal", 1 / OIL_KWH_GAL), Form("L", LITRE_GAL / OIL_KWH_GAL)),
    "kwh_price": (Form("$/kWh", 1, 3), Form("$/kWh", 1, 3)),
    "gas_price": (Form("$/therm", THERM_KWH, 3), Form("$/kWh", 1, 4)),
    "propane_price": (Form("$/gal", PROPANE_KWH_GAL, 3), Form("$/L", PROPANE_KWH_GAL / LITRE_GAL, 3)),
    "oil_price": (Form("$/gal", OIL_KWH_GAL, 3), Form("$/L", OIL_KWH_GAL / LITRE_GAL, 3)),
    "years": (Form("years", 1, 1), Form("years", 1, 1)),
    "people": (Form("people", 1, 1), Form("people", 1, 1)),
}


def form(kind: str, units: Units) -> Form:
    """The display form of a kind. Raises KeyError for an unknown kind."""
    ip, si = FORMS[kind]
    return ip if units == "ip" else si


def unit(kind: str, units: Units) -> str:
    """The unit's name, such as 'cfm' or 'L/s'."""
    return form(kind, units).unit


def shown(kind: str, value: float, units: Units) -> float:
    """The number in display units, not rounded."""
    f = form(kind, units)
    return value * f.factor + f.offset


def number(kind: str, value: float | None, units: Units, decimals: int | None = None) -> str:
    """The number as text without its unit; '–' when there is none."""
    if value is None or not math.isfinite(value):
        return "–"
    if kind == "feet" and units == "ip":
        return feet_inches(value)
    f = form(kind, units)
    places = f.decimals if decimals is None else decimals
    number_ = round(value * f.factor + f.offset, places)
    text = f"{number_ + 0.0:,.{places}f}"
    return text.replace("-", "−") if number_ else f"{0:.{places}f}"


def tube(diameter_m: float, units: Units) -> str:
    """A copper tube by its outside diameter, to the nearest 1/16 in: '3/8 in', or '9.5 mm'."""
    if units == "si":
        return f"{diameter_m * 1000:.1f} mm"
    n = max(round(diameter_m / INCH * 16), 1)
    whole, left = divmod(n, 16)
    half = gcd(left, 16)
    part = f"{left // half}/{16 // half}" if left else ""
    return f"{' '.join(x for x in (str(whole) if whole else '', part) if x)} in"


def text(kind: str, value: float | None, units: Units, decimals: int | None = None) -> str:
    """The number with its unit, such as '114 cfm'."""
    body = number(kind, value, units, decimals)
    name = unit(kind, units)
    if name == "R" and body != "–":  # R-49, as the bag says
        return f"R-{body.removesuffix('.0').removesuffix('.00')}"
    if (kind == "feet" and units == "ip") or not name or body == "–":
        return body
    if name == "$":
        return f"−${body[1:]}" if body.startswith("−") else f"${body}"
    return f"{body}{'' if name == '°' else ' '}{name}"


def said(trouble: Exception, units: Units) -> str:
    """A refusal's text with its figures in the user's units."""
    parts = getattr(trouble, "parts", None)
    if parts is None:
        return str(trouble)
    return "".join(p if isinstance(p, str) else text(p[0], p[1], units, 1 if p[0] == "area" else None) for p in parts)


def feet_inches(value_m: float) -> str:
    """Feet and inches to the quarter inch, such as 14' 3" or 6' 4¼"."""
    quarters = round(abs(value_m) / INCH * 4)
    feet, rest = divmod(quarters, 48)
    inches, fraction = divmod(rest, 4)
    sign = "−" if value_m < 0 and quarters else ""
    return f"{sign}{feet}′ {inches}{('', '¼', '½', '¾')[fraction]}″"


WORDS: dict[str, dict[str, float]] = {
    "length": {
        "m meter meters metre metres": 1.0,
        "cm centimeter centimeters centimetre centimetres": 0.01,
        "mm millimeter millimeters millimetre millimetres": 0.001,
        'in inch inches " ″': INCH,
        "ft foot feet ' ′": FOOT,
        "yd yard yards": 3 * FOOT,
    },
    "area": {
        "m2 sqm": 1.0,
        "cm2 sqcm": 1e-4,
        "mm2 sqmm": 1e-6,
        "ft2 sqft": FOOT**2,
        "in2 sqin": INCH**2,
        "yd2 sqyd": (3 * FOOT) ** 2,
    },
    "volume": {
        "m3": 1.0,
        "l liter liters litre litres": 1e-3,
        "ft3 cuft": FOOT**3,
        "gal gallon gallons": 3.785411784e-3,
    },
    "power": {
        "w watt watts": 1.0,
        "kw kilowatt kilowatts": 1e3,
        "btu/h btuh btu/hr": BTU_H,
        "kbtu/h kbtuh kbtu/hr mbh": BTU_H * 1e3,
        "ton tons": BTU_H * 12e3,
        "hp horsepower": 745.69987,
    },
    "flow": {
        "m3/s": 1.0,
        "m3/h m3/hr cmh": 1 / 3600,
        "m3/min": 1 / 60,
        "l/s": 1e-3,
        "l/min": 1e-3 / 60,
        "cfm ft3/min": FOOT**3 / 60,
    },
    "velocity": {
        "m/s": 1.0,
        "km/h kmh kph": 1 / 3.6,
        "mph mi/h": 1 / 2.2369363,
        "fpm ft/min": FOOT / 60,
        "ft/s fps": FOOT,
        "kn knot knots": 1852 / 3600,
    },
    "pressure": {
        "pa pascal pascals": 1.0,
        "hpa mbar": 100.0,
        "kpa": 1e3,
        "bar": 1e5,
        "inwc inwg inh2o iwc": INWC,
        "inhg": 3386.389,
        "mmh2o mmwc": 9.80665,
        "mmhg": 133.322387,
        "psi": 6894.757293,
    },
    "friction": {"pa/m": 1.0, "inwc/100ft inwg/100ft": INWC / 30.48},
    "u": {"w/m2k w/m2/k w/(m2k) w/m2c": 1.0, "btu/hft2f btu/h/ft2/f btu/(hft2f)": U_IP},
    "r": {"m2k/w m2c/w": 1.0, "r hft2f/btu ft2hf/btu": 1 / U_IP},
    "sheet": {"kg/m2": 1.0, "lb/ft2 lbs/ft2 psf": POUND / FOOT**2},
}
DEGREES = {"c": (1.0, 0.0), "celsius": (1.0, 0.0), "f": (1 / 1.8, -32 / 1.8), "fahrenheit": (1 / 1.8, -32 / 1.8)}
"""On the scale of Celsius: times, and added."""
KELVIN = {"k": (1.0, -273.15), "kelvin": (1.0, -273.15)}

DIMENSION = {
    **dict.fromkeys(("length", "feet", "size", "size1", "size2", "gap"), "length"),
    **dict.fromkeys(("area", "small_area"), "area"),
    **dict.fromkeys(("power", "kpower", "tons", "electric", "watts"), "power"),
    **dict.fromkeys(("velocity", "wind"), "velocity"),
    **dict.fromkeys(("pressure", "pressure3", "pascal", "barometer"), "pressure"),
    **dict.fromkeys(("temperature", "temperature1"), "temperature"),
    **dict.fromkeys(("r_value", "r_layer"), "r"),
    "volume": "volume",
    "flow": "flow",
    "friction": "friction",
    "difference": "difference",
    "u_factor": "u",
    "sheet": "sheet",
}
"""Of each kind of figure that is typed with a unit."""
_SCALES = {d: {w: v for names, v in words.items() for w in names.split()} for d, words in WORDS.items()}
FEET_INCHES = re.compile(
    r"^\s*(?P<sign>[-−]?)\s*(?:(?P<feet>\d+(?:\.\d+)?)\s*(?:'|′|ft\b|feet\b|foot\b))?\s*-?\s*"
    r"(?:(?P<inches>\d+(?:\.\d+)?)?\s*(?P<fraction>[¼½¾⅛⅜⅝⅞]|\d+\s*/\s*\d+)?\s*(?P<mark>\"|″|''|in\b|inch\b|inches\b)?)?"
    r"\s*$",
    re.IGNORECASE,
)
FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅛": 0.125, "⅜": 0.375, "⅝": 0.625, "⅞": 0.875}


def parse(kind: str, typed: str, units: Units) -> float:
    """What the user typed, in SI.

    A bare number is taken in the display unit of `units`.

    Raises:
        UnitError: it can't be read, or it has the wrong dimension.
    """
    clean = typed.strip()
    if not clean:
        raise UnitError("Type a number.")
    if kind in ("length", "feet") and re.search(r"\d\s+\d", clean):
        return _two_numbers(clean, typed, kind, units)
    bare = _bare_number(clean)
    if bare is None and kind in ("r_value", "r_layer"):
        bare = _bare_number(re.sub(r"^[Rr]\s*-?\s*", "", clean))
    if bare is not None:
        f = form(kind, units)
        return (bare - f.offset) / f.factor
    if kind in ("length", "feet", "size", "size1", "gap"):
        length = _feet_inches(clean)
        if length is not None:
            return length
    if kind not in DIMENSION:
        f = form(kind, units)
        bare = _bare_number(clean.removesuffix(f.unit).strip()) if f.unit else None
        if bare is None:
            raise UnitError(f"Can't read “{short(typed)}” here; type a number{f' in {f.unit}' if f.unit else ''}.")
        return (bare - f.offset) / f.factor
    return _with_word(kind, clean, typed, units)


def short(typed: str) -> str:
    """A text from outside in one line of a message."""
    line = " ".join(typed.split())
    return line if len(line) <= 40 else f"{line[:39]}…"


def _two_numbers(clean: str, typed: str, kind: str, units: Units) -> float:
    """`17 6` on a tape in feet is 17 ft 6 in; two bare numbers in metres say nothing."""
    marked = re.sub(r"^(\d+)\s+(?=\d+(\.\d+)?(\s+\d+/\d+)?$)", r"\1' ", clean) if units == "ip" else clean
    length = _feet_inches(marked)
    if length is None:
        raise UnitError(f"Can't read “{short(typed)}” here; type it like “{example(kind, units)}”.")
    return length


def _bare_number(clean: str) -> float | None:
    plain = clean.replace("−", "-").replace(" ", "").replace(" ", "")
    if not re.fullmatch(r"[-+]?(?=\.?\d)(\d{1,3}(,\d{3})+|\d+)?(\.\d*)?([eE][-+]?\d+)?", plain):
        return None
    value = float(plain.replace(",", ""))
    return value if math.isfinite(value) else None


def _feet_inches(clean: str) -> float | None:
    found = FEET_INCHES.match(clean)
    if not found or (found["feet"] is None and (found["mark"] is None or not (found["inches"] or found["fraction"]))):
        return None
    inches = float(found["inches"] or 0)
    fraction = found["fraction"]
    if fraction in FRACTIONS:
        inches += FRACTIONS[fraction]
    elif fraction:
        top, bottom = (float(x) for x in fraction.split("/"))
        if bottom == 0:
            return None
        inches += top / bottom
    value = (float(found["feet"] or 0) * 12 + inches) * INCH
    return -value if found["sign"] else value


def _with_word(kind: str, clean: str, typed: str, units: Units) -> float:
    """A number with the name of a unit of the kind's dimension behind it."""
    found = re.fullmatch(r"\s*([-+−]?[\d.,]*\d[\d.,]*(?:[eE][-+]?\d+)?)\s*(.+?)\s*", clean)
    value = _bare_number(found[1]) if found else None
    scale = known(kind, found[2]) if found else None
    if value is None or scale is None:
        raise UnitError(f"Can't read “{short(typed)}” here; type it like “{example(kind, units)}”.")
    return value * scale[0] + scale[1]


def known(kind: str, word: str) -> tuple[float, float] | None:
    """What a typed figure is multiplied by, and what is added then, for SI; None for a unit that is none of the kind.

    Capitals, blanks, full stops and the way of writing powers and products count for nothing.
    """
    dimension = DIMENSION[kind]
    plain = word.lower().replace("²", "2").replace("³", "3")
    plain = re.sub(r"\bsquare\b", "sq", plain)
    plain = re.sub(r"[\s·*^.°]", "", plain)
    plain = re.sub(r"delta_?|deg(rees?)?(?=[cf])", "", plain)
    if dimension in ("temperature", "difference"):
        scale = (DEGREES | KELVIN).get(plain)
        return scale if scale is None or dimension == "temperature" else (scale[0], 0.0)
    value = _SCALES[dimension].get(plain)
    return None if value is None else (value, 0.0)


def example(kind: str, units: Units) -> str:
    """A sample of how this kind may be typed."""
    samples = {"feet": ("8' 6\"", "2.6 m"), "length": ("8 ft", "2.44 m"), "size": ("7 in", "180 mm")}
    if kind in samples:
        return samples[kind][0 if units == "ip" else 1]
    f = form(kind, units)
    return f"12 {f.unit}".strip()
