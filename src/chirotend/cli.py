"""The command line: serve, demo, check, password, backup."""

import gc
import getpass
import sys
import tempfile
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

import click
import segno
from cheroot.ssl.builtin import BuiltinSSLAdapter
from cheroot.wsgi import Server as WSGIServer
from flask import Flask
from waitress import serve as waitress_serve

from chirotend.demo.scenario import DEMO_NOW, make_demo
from chirotend.services import accounts, database
from chirotend.services.certificate import Certificate, certificate_for, own_address
from chirotend.services.desk import Refused
from chirotend.web import create_app
from chirotend.web.app import real_clock

LOOPBACK = "127.0.0.1"
HOSTS = ["127.0.0.1", "localhost", "[::1]"]


def running_clock(starts_at: datetime) -> Callable[[], datetime]:
    """Return a clock that shows `starts_at` now and runs on from there."""
    offset = starts_at - datetime.now(UTC)
    return lambda: datetime.now(UTC) + offset


@click.group()
def main() -> None:
    """Chirotend keeps practice load and tension signs in view."""


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None, help="Data folder.")
@click.option("--port", default=8731, show_default=True)
@click.option("--lan", is_flag=True, help="Serve to this network over https: a tablet on the stand can reach it.")
@click.option("--address", default=None, help="With --lan: the address to serve at, when it is not found by itself.")
def serve(data: Path | None, port: int, lan: bool, address: str | None) -> None:
    """Serve on this computer; prints a set-up link until there is an account."""
    folder = data or database.data_folder()
    host = (address or own_address()) if lan else LOOPBACK
    app = create_app(folder, trusted_hosts=[*HOSTS, host], secure=lan)
    address = f"{'https' if lan else 'http'}://{host}:{port}"
    with app.extensions["database"].open_db() as db:
        if accounts.the_only_account(db) is None:
            secret = accounts.make_setup_link(db, real_clock())
            db.commit()
            click.echo(f"Set up the first account: {address}/first-run/{secret}")
    click.echo(f"Chirotend: {address}")
    gc.freeze()  # what start-up made stays: no collection need look at it again
    if lan:
        _serve_lan(app, folder, host, port, address)
    else:
        waitress_serve(app, host=LOOPBACK, port=port, threads=4)


def lan_server(app: Flask, folder: Path, host: str, port: int) -> tuple[WSGIServer, Certificate]:
    """Return a server that speaks https at `host`, and its certificate; the caller starts and stops it."""
    certificate = certificate_for(folder, [host, LOOPBACK], real_clock())
    server = WSGIServer((host, port), app, numthreads=4)
    server.ssl_adapter = BuiltinSSLAdapter(str(certificate.certificate), str(certificate.key))
    return server, certificate


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
        app = create_app(Path(folder), clock=running_clock(DEMO_NOW), demo=True, trusted_hosts=HOSTS)
        click.echo(f"Chirotend demo, signed in by itself: http://{LOOPBACK}:{port}")
        gc.freeze()
        waitress_serve(app, host=LOOPBACK, port=port, threads=4)


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None)
def check(data: Path | None) -> None:
    """Check the database and every record in it."""
    opened = database.open_database(data or database.data_folder(), real_clock())
    faults = database.faults(opened)
    for fault in faults:
        click.echo(fault, err=True)
    click.echo("Nothing wrong." if not faults else f"{len(faults)} faults.")
    sys.exit(bool(faults))


@main.command()
@click.argument("name")
@click.option("--data", type=click.Path(path_type=Path), default=None)
def password(name: str, data: Path | None) -> None:
    """Set a new password for the account NAME and sign every browser out."""
    opened = database.open_database(data or database.data_folder(), real_clock())
    typed = getpass.getpass("New password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    with opened.open_db() as db:
        try:
            accounts.set_password(db, accounts.Passwords(), name, typed)
        except Refused as error:
            raise click.ClickException(error.sentence) from error
        db.commit()
    click.echo("The new password holds; every browser must sign in again.")


@main.command()
@click.option("--data", type=click.Path(path_type=Path), default=None)
def backup(data: Path | None) -> None:
    """Copy the database, also while it is in use, into the backups folder."""
    now = real_clock()
    saved = database.backup(database.open_database(data or database.data_folder(), now), now)
    click.echo(str(saved) if saved else "This database has backup tools of its own.")


if __name__ == "__main__":
    main()
