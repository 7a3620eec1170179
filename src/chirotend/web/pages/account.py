"""Signing in and out, the first run, the player's settings."""

from zoneinfo import available_timezones

from flask import Blueprint, abort, current_app, redirect, render_template, request, url_for
from flask_login import login_user, logout_user
from flask_wtf import FlaskForm
from wtforms import BooleanField, PasswordField, SelectField, SelectMultipleField, StringField
from wtforms.validators import InputRequired

from chirotend.library.loader import instruments
from chirotend.services import accounts
from chirotend.services.desk import Refused
from chirotend.web.signin import Visitor
from chirotend.web.transaction import db, desk, now
from chirotend.web.typed import choices

bp = Blueprint("account", __name__)
ZONES = sorted(
    z for z in available_timezones() if "/" in z and not z.startswith(("Etc/", "posix/", "right/", "SystemV/"))
)


class SignInForm(FlaskForm):
    name = StringField("Name", [InputRequired("Type the name you sign in with.")])
    password = PasswordField("Password", [InputRequired("Type your password.")])


class PlayerForm(FlaskForm):
    """What both the first run and the settings ask."""

    player = StringField(
        "Your name, as on your part", [InputRequired("Type your name as it should stand on your part.")]
    )
    instruments = SelectMultipleField("What you play", choices=choices((i.id, i.name) for i in instruments().values()))
    zone = SelectField("Home time zone", choices=choices((z, z.replace("_", " ")) for z in [*ZONES, "UTC"]))


class FirstRunForm(PlayerForm):
    name = StringField("A name to sign in with", [InputRequired("Type a name to sign in with.")])
    password = PasswordField("A password", [InputRequired("Type a password of 10 characters or more.")])


class SettingsForm(PlayerForm):
    emergency_number = StringField("Your local emergency number")
    units = SelectField("Units", choices=choices({"metric": "metric (cm, g)", "inch": "inch (in, oz)"}))
    letter_keys = BooleanField("Letters A to H on the keyboard open the pages")


@bp.route("/sign-in", methods=["GET", "POST"])
def sign_in_page():  # type: ignore[no-untyped-def]
    form = SignInForm()
    if form.validate_on_submit():
        try:
            row = accounts.sign_in(db(), current_app.extensions["passwords"], form.name.data, form.password.data)
        except Refused as error:
            form.password.errors = [error.sentence]
        else:
            login_user(Visitor(row))
            target = request.args.get("next", "")
            return redirect(
                target if target.startswith("/") and not target.startswith("//") else url_for("today.index")
            )
    return render_template("account/sign_in.html", form=form), 422 if form.errors else 200


@bp.post("/sign-out")
def sign_out():  # type: ignore[no-untyped-def]
    logout_user()
    return redirect(url_for(".sign_in_page"))


@bp.route("/first-run/<secret>", methods=["GET", "POST"])
def first_run(secret: str):  # type: ignore[no-untyped-def]
    if not accounts.setup_link_works(db(), secret):
        abort(404)
    form = FirstRunForm()
    if request.method == "GET":
        form.zone.data = "Europe/Vienna"
    if form.validate_on_submit():
        try:
            row = accounts.first_account(
                db(),
                current_app.extensions["passwords"],
                secret,
                form.name.data,
                form.password.data,
                form.player.data,
                form.zone.data,
                form.instruments.data or [],
                now(),
            )
        except Refused as error:
            form[error.field].errors = [error.sentence]
        else:
            login_user(Visitor(row))
            return redirect(url_for("record.index"))
    return render_template("account/first_run.html", form=form), 422 if form.errors else 200


@bp.route("/settings", methods=["GET", "POST"])
def settings():  # type: ignore[no-untyped-def]
    p = desk().player
    form = SettingsForm(
        data={
            "player": p.name,
            "instruments": p.instruments,
            "zone": p.zone,
            "units": p.units,
            "emergency_number": p.emergency_number,
            "letter_keys": p.letter_keys,
        }
    )
    if form.validate_on_submit():
        try:
            accounts.save_settings(
                desk(),
                form.player.data,
                form.zone.data,
                form.instruments.data or [],
                form.emergency_number.data or "",
                form.units.data,
                form.letter_keys.data,
            )
        except Refused as error:
            form[error.field].errors = [error.sentence]
        else:
            return redirect(url_for(".settings", saved=1))
    return render_template(
        "account/settings.html", form=form, saved=request.args.get("saved")
    ), 422 if form.errors else 200
