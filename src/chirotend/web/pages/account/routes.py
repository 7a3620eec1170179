"""Signing in and out, the first run, the player's settings."""

from collections.abc import Iterable
from zoneinfo import available_timezones

from flask import Blueprint, abort, current_app, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_login import current_user
from flask_wtf import FlaskForm
from flask_wtf.csrf import generate_csrf
from wtforms import BooleanField, PasswordField, SelectField, SelectMultipleField, StringField
from wtforms.validators import InputRequired

from chirotend.core.judge.evidence import USUAL_WATCH
from chirotend.library.loader import families, instruments
from chirotend.library.schema import Instrument
from chirotend.services.account import accounts
from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile, say
from chirotend.web import fields
from chirotend.web.field_errors import refusing, sentences_at
from chirotend.web.signin import sign_in, sign_out
from chirotend.web.transaction import context, db, let_go, now
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
    instruments = SelectMultipleField("What you play, your main one first")
    zone = SelectField("Home time zone", choices=choices((z, z.replace("_", " ")) for z in [*ZONES, "UTC"]))

    def offer(self, known: Iterable[Instrument]) -> None:
        self.instruments.choices = choices((i.id, i.name) for i in known)


class FirstRunForm(PlayerForm):
    password = PasswordField("A password", [InputRequired("Type a password of 10 characters or more.")])


class SettingsForm(PlayerForm):
    emergency_number = StringField("Your local emergency number")
    units = SelectField("Units", choices=choices({"metric": "metric (cm, g)", "inch": "inch (in, oz)"}))
    letter_keys = BooleanField("Letters A to H on the keyboard open the pages")


@bp.route("/sign-in", methods=["GET", "POST"])
def sign_in_page() -> ResponseReturnValue:
    form = SignInForm()
    if form.validate_on_submit():
        with sentences_at(form):
            passwords = current_app.extensions["passwords"]
            sign_in(accounts.sign_in(db(), passwords, form.name.data, form.password.data))
            return redirect(fields.local_path(request.args.get("next", "")) or url_for("today.index"))
    return render_template("account/sign_in.html", form=form), 422 if form.errors else 200


@bp.post("/sign-out")
def sign_out_here() -> ResponseReturnValue:
    sign_out()
    return redirect(url_for(".sign_in_page"))


@bp.post("/sign-out/everywhere")
def sign_out_everywhere() -> ResponseReturnValue:
    accounts.sign_out_everywhere(db(), current_user.row)
    sign_out()
    return redirect(url_for(".sign_in_page"))


@bp.post("/sign-out/<handle>")
def sign_out_one(handle: str) -> ResponseReturnValue:
    accounts.sign_out_handle(db(), current_user.row, handle)
    return redirect(url_for(".settings"))


@bp.get("/token")
def token() -> ResponseReturnValue:
    """A fresh token for a page that stayed open through a new sign-in."""
    return {"token": generate_csrf()}


def _settings_again(problem: FieldError, code: int) -> ResponseReturnValue:
    return _settings(_settings_form(), problem, code)


@bp.post("/settings/watch")
@refusing(_settings_again)
def write_watch() -> ResponseReturnValue:
    say(context(), watch=request.form.get("watch", ""))
    return redirect(url_for(".settings", saved=1))


@bp.post("/settings/password")
@refusing(_settings_again)
def change_password() -> ResponseReturnValue:
    form = request.form
    if form.get("new_password", "") != form.get("again", ""):
        raise FieldError("again", "The two new ones differ. Type the same twice.")
    accounts.change_password(
        db(),
        current_app.extensions["passwords"],
        current_user.row,
        form.get("old_password", ""),
        form.get("new_password", ""),
        current_user.cookie,
    )
    return redirect(url_for(".settings", saved="password"))


@bp.route("/first-run/<secret>", methods=["GET", "POST"])
def first_run(secret: str) -> ResponseReturnValue:
    meant = accounts.setup_link_name(db(), secret, now())
    if meant is None:
        abort(404)
    form = FirstRunForm()
    form.offer(instruments().values())
    if request.method == "GET":
        form.zone.data = "Europe/Vienna"
    if form.validate_on_submit():
        with sentences_at(form, name="player"):
            row = accounts.account_by_link(
                db(),
                current_app.extensions["passwords"],
                secret,
                meant or form.player.data,
                form.password.data,
                form.player.data,
                form.zone.data,
                form.instruments.data or [],
                now(),
            )
            sign_in(row)
            return redirect(url_for("today.index"))
    return render_template(
        "account/first_run.html",
        form=form,
        meant=meant,
        families=families().values(),
        instruments=instruments().values(),
    ), 422 if form.errors else 200


def _settings_form() -> SettingsForm:
    p = context().player
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
    form.offer(own_library.instruments(context()).values())
    return form


def _settings(form: SettingsForm, problem: FieldError | None = None, code: int = 200) -> ResponseReturnValue:
    return render_template(
        "account/settings.html",
        form=form,
        families=families().values(),
        instruments=own_library.instruments(context()).values(),
        saved=request.args.get("saved"),
        account=current_user.row,
        watch=profile(context()).watch or USUAL_WATCH,
        browsers=accounts.browsers(db(), current_user.row, current_user.cookie),
        problem=problem,
    ), code


@bp.route("/settings", methods=["GET", "POST"])
def settings() -> ResponseReturnValue:
    form = _settings_form()
    if form.validate_on_submit():
        with sentences_at(form):
            accounts.save_settings(
                context(),
                form.player.data,
                form.zone.data,
                form.instruments.data or [],
                form.emergency_number.data or "",
                form.units.data,
                form.letter_keys.data,
            )
            return redirect(url_for(".settings", saved=1))
    if form.errors:
        let_go()
    return _settings(form, None, 422 if form.errors else 200)
