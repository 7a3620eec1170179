"""The library as one player sees it: what ships, and the instruments, grips and exercises of her own."""

import hashlib
import re
from collections.abc import Callable, Mapping
from typing import Any

from pydantic import ValidationError

from chirotend.core.body.zones import zones
from chirotend.library import loader
from chirotend.library.schema import ExerciseEntry, Grip, Instrument, Strict
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections
from chirotend.store.models import OwnItemRow

SCHEMAS: dict[str, type[Strict]] = {"instrument": Instrument, "grip": Grip, "exercise": ExerciseEntry}


def _own(context: Context, kind: str) -> dict[str, Any]:
    return context.per_request(f"own {kind}", lambda: _own_items(context, kind))


def _own_items(context: Context, kind: str) -> dict[str, Any]:
    rows = context.per_request("own items", context.store.repository(OwnItemRow).all)
    return {row.uid: SCHEMAS[kind].model_validate(row.document) for row in rows if row.kind == kind}


def own_grips(context: Context) -> frozenset[str]:
    """Return the ids of the grips she wrote in herself."""
    return frozenset(_own(context, "grip"))


def instruments(context: Context) -> dict[str, Instrument]:
    return {**loader.instruments(), **_own(context, "instrument")}


def grips(context: Context) -> dict[str, Grip]:
    return {**loader.grips(), **_own(context, "grip")}


def exercises(context: Context) -> dict[str, ExerciseEntry]:
    return {**loader.exercises(), **_own(context, "exercise")}


def everything(context: Context, kind: str) -> dict[str, Any]:
    """Return the whole library of one kind; `NotThere` for a kind there is none of."""
    shelves: dict[str, Callable[[Context], dict[str, Any]]] = {
        "instrument": instruments,
        "grip": grips,
        "exercise": exercises,
    }
    if kind not in shelves:
        raise NotThere(kind)
    return shelves[kind](context)


def families_of(item: Instrument | Grip | ExerciseEntry) -> tuple[str, ...]:
    """Return the families an item belongs to."""
    return (item.family,) if isinstance(item, Instrument) else (*item.families, "all")


def zone_names() -> dict[str, str]:
    """Return the zones of the body map by id, by the player's name."""
    return {z.id: z.name for z in zones().values()}


def document_of(kind: str, form: Any) -> dict[str, Any]:
    """Return what a form says of an item as a document of the library; numbers that cannot be read stay text."""
    document: dict[str, Any] = {"name": form.get("name", "")}
    if kind == "instrument":
        loads = {f"{side}_load": form.getlist(f"{side}_load") for side in ("left", "right")}
        document |= {k: [{"zone": z, "why": ""} for z in v] for k, v in loads.items() if v}
        mass = form.get("mass_kg", "").strip().replace(",", ".")
        if mass:
            document["typical_mass_kg"] = {"low": mass, "high": mass, "note": "typed by the player"}
        return {**document, "family": form.get("family", ""), "reach_note": form.get("note", "")}
    document["families"] = [form.get("family", "")] if form.get("family") else []
    if kind == "grip":
        return {
            **document,
            "kind": form.get("grip_kind", "") or "own hold",
            "hand": form.get("hand", "either"),
            "motion": form.getlist("motion") or ["none"],
            "costs": form.getlist("costs"),
            "relieves": form.getlist("relieves"),
            "check": form.get("note", ""),
        }
    return {
        **document,
        "stage": form.get("stage", ""),
        "minutes": form.get("minutes", "").strip().replace(",", ".") or "2",
        "hands": form.get("hands", "both"),
        "how": form.get("note", ""),
        "zones_loaded": form.getlist("zones_loaded"),
        "needs_warm": form.get("needs_warm") == "yes",
    }


def is_own(context: Context, kind: str, uid: str) -> bool:
    return context.store.repository(OwnItemRow).get(kind, uid) is not None


def name_of(context: Context, instrument: str) -> str:
    """Return the name of an instrument, hers included, or the word itself."""
    own = context.store.repository(OwnItemRow).get("instrument", instrument)
    return str(own.document["name"]) if own else loader.instrument_name(instrument)


def _uid(context: Context, kind: str, name: str) -> str:
    """The id of an item by its name: its plain letters, with a digest where another has them or there are none."""
    plain = re.sub(r"[^a-z0-9]+", "_", name.lower()).strip("_")[:50]
    taken = context.store.repository(OwnItemRow).get(kind, f"own_{plain}") if plain else None
    if plain and (taken is None or taken.document["name"] == name):
        return f"own_{plain}"
    return f"own_{plain}_{hashlib.sha256(name.encode()).hexdigest()[:8]}".replace("__", "_")


def add(context: Context, kind: str, document: Mapping[str, Any]) -> str:
    """Write an item of her own, checked like the shipped ones; returns its id. `FieldError` names the field."""
    if kind not in SCHEMAS:
        raise NotThere(kind)
    name = str(document.get("name", "")).strip()
    if not name:
        raise FieldError("name", "Give it a name.")
    if not any(letter.isalnum() for letter in name):
        raise FieldError("name", "The name needs at least one letter or digit.")
    uid = _uid(context, kind, name)
    known = {*loader.families(), "all"}
    families = [document["family"]] if kind == "instrument" else list(document.get("families", ()))
    if not families or set(families) - known:
        raise FieldError("family", "Choose a family from the list.")
    try:
        made = SCHEMAS[kind].model_validate({**document, "id": uid, "name": name})
    except ValidationError as error:
        first = error.errors()[0]
        raise FieldError(str(first["loc"][0]), f"{str(first['msg']).removeprefix('Value error, ')}.") from error
    corrections.put_row(
        context, "own_item", {"kind": kind, "uid": uid, "document": made.model_dump(mode="json", exclude_defaults=True)}
    )
    return uid


def remove(context: Context, kind: str, uid: str) -> None:
    """Delete an item of her own; it can be undone for a while."""
    corrections.delete(context, "own_item", f"{kind} {uid}")
