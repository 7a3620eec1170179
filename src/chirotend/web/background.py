"""Work that was queued, begun: in the background, or at once where a test asks for it."""

from flask import current_app

from chirotend.web.transaction import commit, db


def run_jobs() -> None:
    """Commit what was queued and wake the worker."""
    commit()
    worker = current_app.extensions["worker"]
    if current_app.config["TESTING"]:
        worker.run_one()
        db().expire_all()
    else:
        worker.wake()
