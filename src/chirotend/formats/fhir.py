"""A report as a FHIR R4 Bundle: a patient (by name only where she said so), observations, the page as a document.

The tests hold it against `fhir.resources` (R4B, which reads R4 for these resources). LOINC 72514-3, "Pain severity -
0-10 verbal numeric rating", is from memory and doubtful: every code has its words beside it.
"""

import base64
import json
import uuid
from collections.abc import Mapping
from typing import Any

PAIN = {"system": "http://loinc.org", "code": "72514-3", "display": "Pain severity - 0-10 verbal numeric rating"}
MEDIA = "application/pdf"
SPACE = uuid.UUID("8e5f2a5e-6b0f-4a0e-9a53-5d1c8a4f2d11")


def bundle(values: Mapping[str, Any], made: str, pdf: bytes) -> str:
    """Return the bundle of a report's JSON values as text; `made` is an instant, ISO 8601 with its offset.

    The same report gives the same ids.
    """

    def entry(kind: str, name: str, resource: dict[str, Any]) -> dict[str, Any]:
        uid = str(uuid.uuid5(SPACE, f"{kind} {name}"))
        return {"fullUrl": f"urn:uuid:{uid}", "resource": {"resourceType": kind, "id": uid, **resource}}

    named = values["who"] != "A player"
    key = f"{values['first']} {values['last']} {values['who']}"
    person = entry("Patient", key, {"name": [{"text": values["who"]}]} if named else {})
    subject = {"reference": person["fullUrl"]}

    def observed(name: str, day: str, code: dict[str, Any], value: dict[str, Any]) -> dict[str, Any]:
        found = {"status": "final", "subject": subject, "effectiveDateTime": day, "code": code, **value}
        return entry("Observation", f"{key} {name}", found)

    entries = [person]
    for n, m in enumerate(values["marks"]):
        words = f"{m['kind']}, {m['zone'].replace('_', ' ')}, {m['side']}, {m['timing']}, 0 to 10"
        code: dict[str, Any] = {"text": words, **({"coding": [PAIN]} if m["kind"] == "pain" else {})}
        entries.append(observed(f"mark {n}", m["day"], code, {"valueInteger": round(m["intensity"])}))
    for week in values["week_minutes"]:
        code = {"text": "minutes played in the seven days from this day"}
        minutes = {"value": week["minutes"], "unit": "min", "system": "http://unitsofmeasure.org", "code": "min"}
        entries.append(observed(f"week {week['from']}", week["from"], code, {"valueQuantity": minutes}))
    for n, m in enumerate(values["measures"]):
        for which in ("first", "last"):
            quantity = {"value": m[which], **({"unit": m["unit"]} if m["unit"] else {})}
            code = {"text": m["name"]}
            entries.append(observed(f"measure {n} {which}", m[f"{which}_day"], code, {"valueQuantity": quantity}))
    document = {
        "status": "current",
        "subject": subject,
        "date": made,
        "description": "One page written by the player; not a medical record.",
        "content": [{"attachment": {"contentType": MEDIA, "data": base64.b64encode(pdf).decode(), "title": "Report"}}],
    }
    entries.append(entry("DocumentReference", key, document))
    found = {"resourceType": "Bundle", "type": "collection", "timestamp": made, "entry": entries}
    return json.dumps(found, ensure_ascii=False, indent=1)
