"""The JSON Schema of a drum file, built from the limits the core enforces."""

from __future__ import annotations

from typing import Any

from kesselton.core import constants as const
from kesselton.core import drum as d
from kesselton.core import head as h
from kesselton.core import rounds as r
from kesselton.core.gauge import MOST_DIVISIONS
from kesselton.core.materials import MATERIALS
from kesselton.core.muffler import MOST_MUFFLERS, MUFFLERS, SIDES
from kesselton.core.threads import THREADS

FORMAT = "kesselton/drum"
VERSION = 1


def _number(low: float, high: float, nullable: bool = False) -> dict[str, Any]:
    kinds = ["number", "null"] if nullable else "number"
    return {"type": kinds, "minimum": low, "maximum": high}


def _object(properties: dict[str, Any], required: list[str]) -> dict[str, Any]:
    return {
        "type": "object",
        "properties": properties,
        "required": required,
        "additionalProperties": False,
    }


def head_schema() -> dict[str, Any]:
    """JSON Schema of a head."""
    thickness = _number(h.THINNEST_PLY_M, h.THICKEST_PLY_M)
    addition = _object(
        {
            "kind": {"enum": list(h.ADDITION_KINDS)},
            "inner_radius_m": _number(0.0, 1.0),
            "outer_radius_m": _number(0.0, 1.0),
            "thickness_m": thickness,
        },
        ["kind", "inner_radius_m", "outer_radius_m", "thickness_m"],
    )
    return _object(
        {
            "name": {"type": "string", "minLength": 1, "maxLength": 80},
            "material": {"enum": list(MATERIALS)},
            "plies_m": {"type": "array", "items": thickness, "minItems": 0, "maxItems": 4},
            "areal_density_kg_per_m2": _number(0.01, 5.0, nullable=True),
            "coating_kg_per_m2": _number(0.0, 0.5),
            "additions": {"type": "array", "items": addition, "maxItems": 8},
            "port_diameter_m": _number(0.0, h.LARGEST_PORT_M),
            "interlayer": {"enum": list(h.INTERLAYERS)},
            "edge_vents": {"type": "integer", "minimum": 0, "maximum": h.MOST_EDGE_VENTS},
            "edge_vent_diameter_m": _number(0.0, h.LARGEST_EDGE_VENT_M),
        },
        ["name"],
    )


def drum_schema() -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of `*.drum.json`, version 1."""
    head = head_schema()
    pitch = _number(d.LOWEST_PITCH_HZ, d.HIGHEST_PITCH_HZ)
    reading = _object(
        {
            "kind": {"enum": ["lug_pitch"]},
            "hz": pitch,
            "other_head": {"enum": list(d.OTHER_HEAD)},
            "centre": {"enum": list(d.CENTRE)},
        },
        ["kind", "hz"],
    )
    setting = _object(
        {
            "head": head,
            "tension_n_per_m": _number(d.LOWEST_TENSION_N_PER_M, d.HIGHEST_TENSION_N_PER_M),
            "lug_pitch_hz": pitch,
            "reading": reading,
        },
        ["head"],
    )
    muffler = _object(
        {
            "kind": {"enum": list(MUFFLERS)},
            "side": {"enum": list(SIDES)},
            "place": _number(0.0, 0.98),
            "rod": _number(1.0, 40.0),
        },
        ["kind"],
    )
    half_low, half_high = 0.45 * d.SMALLEST_HEAD_M, 0.51 * d.LARGEST_HEAD_M
    shell = _object(
        {
            "head_diameter_m": _number(d.SMALLEST_HEAD_M, d.LARGEST_HEAD_M),
            "contact_radius_m": _number(half_low, half_high, nullable=True),
            "depth_m": _number(d.SHALLOWEST_M, d.DEEPEST_M),
            "rods": {"type": "integer", "minimum": 4, "maximum": const.MOST_RODS},
            "hoop": {"enum": list(d.HOOPS)},
            "shell_note_hz": _number(20.0, 2000.0, nullable=True),
            "vent_diameter_m": _number(0.0, 0.4),
            "rod_thread": {"enum": list(THREADS)},
        },
        ["head_diameter_m", "depth_m", "rods"],
    )
    air = _object(
        {
            "temperature_c": _number(-20.0, 50.0),
            "relative_humidity": _number(0.0, 1.0),
            "pressure_pa": _number(5e4, 1.2e5),
        },
        [],
    )
    top = _object(
        {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "name": {"type": "string", "minLength": 1, "maxLength": 80},
            "kind": {"enum": list(d.KINDS)},
            "shell": shell,
            "air": air,
            "batter": setting,
            "resonant": {"anyOf": [setting, {"type": "null"}]},
            "mufflers": {"type": "array", "items": muffler, "maxItems": MOST_MUFFLERS},
        },
        ["format", "version", "name", "kind", "shell", "batter", "resonant"],
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Kesselton drum, version 1",
        **top,
    }


def procedure_schema() -> dict[str, Any]:
    """JSON Schema of a procedure file: steps with conditions, for `core.procedure`."""
    words = {"type": "string", "minLength": 1}
    some = {"type": "array", "items": words}
    ask = _object(
        {
            "question": words,
            "good": {"enum": ["yes", "no"]},
            "otherwise": words,
            "ends": {"type": "boolean"},
        },
        ["question", "good", "otherwise"],
    )
    facts = ("kind", "side", "roped", "wood", "skin", "mounted", "ported", "patch")
    when = _object({name: {"type": "array", "minItems": 1} for name in facts}, [])
    step = _object(
        {
            "id": words,
            "title": words,
            "text": words,
            "when": when,
            "cautions": some,
            "tools": some,
            "materials": some,
            "ask": ask,
            "timer": words,
            "picture": {"enum": ["", "order", "mark", "section", "thirds", "quarters"]},
            "repeat": {"enum": ["rounds"]},
        },
        ["id", "title", "text"],
    )
    timer = _object({"label": words, "minutes": words}, ["label", "minutes"])
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Kesselton procedure, version 1",
        **_object(
            {
                "format": {"const": "kesselton/procedure"},
                "version": {"const": 1},
                "name": words,
                "cautions": {"type": "object", "additionalProperties": words},
                "timers": {"type": "object", "additionalProperties": timer},
                "steps": {"type": "array", "items": step, "minItems": 1},
            },
            ["format", "version", "name", "cautions", "timers", "steps"],
        ),
    }


def readings_schema() -> dict[str, Any]:
    """JSON Schema of a readings file: drum, rounds of clearing a head, pairs of a dial."""
    drum = {key: part for key, part in drum_schema().items() if key not in ("$schema", "title")}
    values = [low_high[:2] for low_high in r.LIMITS.values()]
    tap = _object(
        {
            "kind": {"enum": list(r.KINDS)},
            "rod": {"type": "integer", "minimum": 1, "maximum": const.MOST_RODS},
            "value": _number(min(low for low, _ in values), max(high for _, high in values)),
            "spread": _number(0.0, 100.0),
        },
        ["kind", "rod", "value"],
    )
    turns = {"type": "array", "items": _number(-r.MOST_TURN, r.MOST_TURN)}
    one = _object({"taps": {"type": "array", "items": tap}, "turns": turns}, ["taps"])
    six = {"type": "array", "items": {"type": "number"}}
    clearing = _object(
        {
            "side": {"enum": list(SIDES)},
            "rounds": {"type": "array", "items": one, "minItems": 1},
            "pattern": {"enum": list(r.PATTERNS)},
            "wanted": {"type": "array", "items": _number(r.LEAST_SHARE, r.MOST_SHARE)},
            "target_hz": _number(d.LOWEST_PITCH_HZ, d.HIGHEST_PITCH_HZ, nullable=True),
            "step": _number(r.FINEST_STEP, r.COARSEST_STEP),
            "learned": {"anyOf": [{**six, "maxItems": 0}, {**six, "minItems": 6, "maxItems": 6}]},
        },
        ["rounds"],
    )
    pair = _object(
        {
            "dial": _number(0.0, MOST_DIVISIONS),
            "tension_n_per_m": _number(1.0, 60000.0),
            "thickness_m": _number(h.THINNEST_PLY_M, h.THICKEST_PLY_M),
            "name": {"type": "string"},
        },
        ["dial", "tension_n_per_m", "thickness_m"],
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Kesselton readings, version 1",
        **_object(
            {
                "format": {"const": "kesselton/readings"},
                "version": {"const": 1},
                "drum": drum,
                "clearing": clearing,
                "dial_pairs": {"type": "array", "items": pair},
            },
            ["format", "version", "drum", "clearing"],
        ),
    }
