"""Traces: a file or a sensor, its channels, and what they show."""

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from chirotend.core.measure.traces import CHANNEL_KINDS
from chirotend.formats.probe_data import Trace
from chirotend.services.context import FieldError
from chirotend.services.record import corrections
from chirotend.services.technique import plugged, probes, traces
from chirotend.web.background import run_jobs
from chirotend.web.field_errors import refusing
from chirotend.web.pages.technique.blueprint import bp, bring_to_read, files_folder, probe_page
from chirotend.web.transaction import context, unlocked_context


@bp.get("/trace", endpoint="trace")
def trace_form(problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return probe_page(
        "trace",
        devices=plugged.names(files_folder()),
        usual_s=plugged.USUAL_S,
        done=list(reversed(probes.of_kind(context(), Trace)))[:12],
        problem=problem,
    ), code


@bp.post("/trace")
@refusing(trace_form)
def bring_trace() -> ResponseReturnValue:
    return bring_to_read(Trace.kind, ".trace_result")


@bp.post("/trace/device")
@refusing(trace_form)
def read_device() -> ResponseReturnValue:
    uid = plugged.begin(context(), files_folder(), request.form)
    run_jobs()
    return redirect(url_for(".job", uid=uid))


@bp.get("/trace/<uid>")
def trace_result(problem: FieldError | None = None, code: int = 200, uid: str = "") -> ResponseReturnValue:
    start, end = (_second(request.args.get(name, "")) for name in ("from", "to"))
    page = traces.trace_page(context(), files_folder(), uid, start, end)
    return probe_page(
        "traced",
        page=page,
        rests=traces.rests_shown(page.probe.data),
        offs=traces.hands_off_shown(page.probe.data),
        kinds=[(k, traces.NAMES[k]) for k in CHANNEL_KINDS],
        units=traces.UNITS,
        problem=problem,
        undo=corrections.offered(context()),
    ), code


def _second(text: str) -> float | None:
    try:
        value = float(text)
    except ValueError:
        return None
    return value if 0 <= value <= 86_400 else None


@bp.post("/trace/<uid>/channels")
@refusing(trace_result, of_address=True)
def describe_trace(uid: str) -> ResponseReturnValue:
    found = traces.worked_out(unlocked_context(), files_folder(), uid, request.form)
    traces.describe(context(), uid, found)
    return redirect(url_for(".trace_result", uid=uid))


@bp.post("/trace/<uid>/mark")
@refusing(trace_result, of_address=True)
def mark_trace(uid: str) -> ResponseReturnValue:
    traces.mark(context(), uid, request.form)
    return redirect(url_for(".trace_result", uid=uid))


@bp.post("/trace/<uid>/sound")
@refusing(trace_result, of_address=True)
def hear_beside(uid: str) -> ResponseReturnValue:
    traces.hear_beside(context(), uid, request.form)
    return redirect(url_for(".trace_result", uid=uid))
