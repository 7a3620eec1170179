"""The command line: serve, demo, account, check, password, backup, restore, import, export."""

import gc
import getpass
import logging
import os
import sqlite3
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click
import segno
from flask import Flask
from waitress import serve as waitress_serve

from chirotend import diary_commands
from chirotend.core.late import late
from chirotend.demo.scenario import DEMO_NOW, make_demo
from chirotend.devices import stand_ins
from chirotend.devices.plug import Plug
from chirotend.drawing import curves
from chirotend.services.account import accounts
from chirotend.services.context import FieldError
from chirotend.services.prove import report, validation
from chirotend.services.server import database, health
from chirotend.services.server.arenas import share_arenas
from chirotend.services.server.database import CannotOpen, Database
from chirotend.services.server.restore import restore as put_back
from chirotend.services.server.restore import serving
from chirotend.services.technique import plugged
from chirotend.web import create_app
from chirotend.web.app import UPLOAD_MAX, real_clock
from chirotend.web.markup import svg

if TYPE_CHECKING:
    from chirotend.services.server.certificate import Certificate
    from chirotend.web.network import NetworkServer
#: they bring a server of their own and the library of certificates, which only --lan needs
certificates = late("chirotend.services.server.certificate")
network = late("chirotend.web.network")

LOOPBACK = "127.0.0.1"
#: requests that are answered at once; those who bring files take no more than half of them (`sandbox.IN_LINE`)
THREADS = 8
HOSTS = ["127.0.0.1", "localhost"]


def running_clock(starts_at: datetime) -> Callable[[], datetime]:
    """Return a clock that shows `starts_at` now and runs on from there."""
    offset = starts_at - datetime.now(UTC)
    return lambda: datetime.now(UTC) + offset


def _open(data: Path | None) -> Database:
    """Open the database of a folder, or say in one sentence why it cannot be opened."""
    try:
        return database.open_database(data or database.data_folder(), real_clock())
    except CannotOpen as error:
        raise click.ClickException(str(error)) from error


def _application(folder: Path, **more: Any) -> Flask:
    share_arenas(2)
    try:
        return create_app(folder, **more)
    except CannotOpen as error:
        raise click.ClickException(str(error)) from error


@click.group()
def main() -> None:
    """Chirotend keeps practice load and tension signs in view."""


main.add_command(diary_commands.bring)
main.add_command(diary_commands.take)


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Data folder.")
@click.option("--port", default=8731, show_default=True)
@click.option("--lan", is_flag=True, help="Serve to this network over https: a tablet on the stand can reach it.")
@click.option("--address", default=None, help="With --lan: the address to serve at, when it is not found by itself.")
def serve(data: Path | None, port: int, lan: bool, address: str | None) -> None:
    """Serve on this computer; prints a set-up link until there is an account."""
    folder = data or database.data_folder()
    host = (address or certificates.own_address()) if lan else LOOPBACK
    app = _application(folder, trusted_hosts=[*HOSTS, host], secure=lan, port=port)
    address = f"{'https' if lan else 'http'}://{host}:{port}"
    with app.extensions["database"].open_db() as db:
        if accounts.the_only_account(db) is None:
            secret = accounts.make_setup_link(db, real_clock())
            db.commit()
            click.echo(f"Set up the first account: {address}/first-run/{secret}")
    click.echo(f"Chirotend: {address}")
    gc.freeze()  # what start-up made stays: no collection need look at it again
    with serving(folder):
        if lan:
            _serve_lan(app, folder, host, port, address)
        else:
            _serve_here(app, port)


def _serve_here(app: Flask, port: int) -> None:
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)  # that a request waits a moment is no news
    waitress_serve(app, host=LOOPBACK, port=port, threads=THREADS, max_request_body_size=UPLOAD_MAX)


def lan_server(app: Flask, folder: Path, host: str, port: int) -> "tuple[NetworkServer, Certificate]":
    """Return a server that speaks https at `host`, and its certificate; the caller starts and stops it."""
    certificate = certificates.certificate_for(folder, [host, LOOPBACK], real_clock())
    files = str(certificate.certificate), str(certificate.key)
    return network.NetworkServer((host, port), app, *files, UPLOAD_MAX), certificate


def _serve_lan(app: Flask, folder: Path, host: str, port: int, address: str) -> None:
    """Serve to the network and say how a tablet finds the way: address, code to photograph, fingerprint."""
    server, certificate = lan_server(app, folder, host, port)
    segno.make(address).terminal(compact=True)
    click.echo(f"Open it on the tablet; the browser asks once. Its certificate is\n{certificate.fingerprint}")
    try:
        server.safe_start()
    finally:
        server.stop()


@main.command()
@click.option("--port", default=8731, show_default=True, envvar="PORT")
def demo(port: int) -> None:
    """Serve the demo record in a throw-away folder; its clock starts on Thursday 12 November 2026, 10.10."""
    with tempfile.TemporaryDirectory(prefix="chirotend-demo-") as folder:
        make_demo(Path(folder))
        app = _application(Path(folder), clock=running_clock(DEMO_NOW), demo=True, trusted_hosts=HOSTS, port=port)
        click.echo(f"Chirotend demo, signed in by itself: http://{LOOPBACK}:{port}")
        gc.freeze()
        _serve_here(app, port)


@main.command()
@click.argument("name", type=click.Choice(tuple(stand_ins.SHOWN)))
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Data folder of the server that reads it.")
def device(name: str, data: Path | None) -> None:
    """Stand in for a sensor NAME until stopped: it plugs into the data folder, as docs/devices.md says."""
    plug = Plug((data or database.data_folder()) / plugged.FOLDER, name, stand_ins.SHOWN[name])
    click.echo(f"Plugged in: {plug.path.name}. Read it under F, Traces. Stop with Ctrl-C.")
    try:
        plug.serve()
    except KeyboardInterrupt:
        plug.pull()


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None)
def check(data: Path | None) -> None:
    """Look at the database and every record in it; nothing is made or changed."""
    faults = health.faults(data or database.data_folder(), real_clock())
    for fault in faults:
        click.echo(fault, err=True)
    click.echo("Nothing wrong." if not faults else f"{len(faults)} faults.")
    sys.exit(bool(faults))


@main.command()
@click.argument("name")
@click.option("--data", type=click.Path(path_type=Path), default=None)
def password(name: str, data: Path | None) -> None:
    """Set a new password for the account NAME and sign every browser out."""
    opened = _open(data)
    typed = getpass.getpass("New password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    with opened.open_db() as db:
        try:
            accounts.set_password(db, accounts.Passwords(), name, typed)
        except FieldError as error:
            raise click.ClickException(error.sentence) from error
        db.commit()
    click.echo("The new password holds; every browser must sign in again.")


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None)
def backup(data: Path | None) -> None:
    """Copy the database, also while it is in use, into the backups folder."""
    opened = _open(data)
    try:
        saved = database.backup(opened, real_clock())
    except (OSError, sqlite3.Error) as error:
        raise click.ClickException(f"No copy was made: {error}. What was there before is as it was.") from error
    click.echo(str(saved) if saved else "This database has backup tools of its own.")


@main.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--data", type=click.Path(path_type=Path), default=None)
def restore(file: Path, data: Path | None) -> None:
    """Go back to the copy FILE of the backups folder; the present database is set aside, not deleted."""
    try:
        done = put_back(data or database.data_folder(), file, real_clock())
    except (CannotOpen, OSError) as error:
        raise click.ClickException(str(error)) from error
    click.echo(done.older)
    if done.set_aside is not None:
        click.echo(f"The database there was is set aside: {done.set_aside}")


@main.command()
@click.option("--quick", is_flag=True, help="A tenth of the players, one mechanics: under a minute.")
@click.option("--out", type=click.Path(path_type=Path, file_okay=False), default=None, help="Write the page there.")
def validate(quick: bool, out: Path | None) -> None:
    """Prove early signs and the call on invented players; prints the page, or writes it and its picture."""
    proof = validation.validate(
        validation.QUICK if quick else validation.FULL, os.cpu_count() or 1, lambda step: click.echo(step, err=True)
    )
    page = report.markdown(proof)
    if out is None:
        click.echo(page)
        return
    out.joinpath("validation.md").write_text(page, encoding="utf-8")
    size = f'viewBox="0 0 {curves.WIDTH:g} {curves.HEIGHT:g}"'
    drawn = f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{svg(report.picture(proof))}</svg>\n'
    out.joinpath("validation.svg").write_text(drawn, encoding="utf-8")


@main.group()
def account() -> None:
    """Accounts of this server: each player sees her own record only."""


@account.command("add")
@click.argument("name")
@click.option("--data", type=click.Path(path_type=Path), default=None)
@click.option("--address", default=f"http://{LOOPBACK}:8731", show_default=True, help="Where the server is reached.")
def add_account(name: str, data: Path | None, address: str) -> None:
    """Print a set-up link for a player who will sign in as NAME; it works once, for 24 hours."""
    with _open(data).open_db() as db:
        try:
            secret = accounts.make_setup_link(db, real_clock(), accounts.sign_in_name(name))
        except FieldError as error:
            raise click.ClickException(error.sentence) from error
        db.commit()
    click.echo(f"{address.rstrip('/')}/first-run/{secret}")


if __name__ == "__main__":
    main()
