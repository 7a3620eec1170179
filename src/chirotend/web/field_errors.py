"""What a service refuses goes back to the page it came from, with a sentence at its field; nothing of it is kept."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import wraps
from typing import Any

from flask import g
from flask.typing import ResponseReturnValue
from flask_wtf import FlaskForm

from chirotend.core.errors import OutOfRange
from chirotend.services.context import FieldError
from chirotend.web import fields
from chirotend.web.transaction import let_go

View = Callable[..., ResponseReturnValue]


def refusing(page: View, of_address: bool = False, in_script: bool = False) -> Callable[[View], View]:
    """Answer what `view` refuses with `page(refusal, 422)`, after all it had changed was let go.

    `of_address`: the page is asked with the view's parts of the address too. `in_script`: a script gets the sentence.
    """

    def decorate(view: View) -> View:
        @wraps(view)
        def asked(**address: Any) -> ResponseReturnValue:
            try:
                return view(**address)
            except FieldError as error:
                refused = error
            except OutOfRange as error:
                refused = FieldError(error.field, "Choose one of the answers shown.")
            let_go()
            g.refused = True
            if in_script and fields.is_part():
                return {"problem": refused.sentence}, 422
            return page(refused, 422, **address if of_address else {})

        return asked

    return decorate


def was_refused() -> bool:
    """Return whether what was sent with this request was refused: then nothing offers to undo what was saved before."""
    return bool(g.get("refused", False))


@contextmanager
def sentences_at(form: FlaskForm, **named: str) -> Iterator[None]:
    """Put what is refused inside at its field of `form`, which has errors then; what was changed is let go.

    `named` gives the field of the form for one that is called otherwise there.
    """
    try:
        yield
    except FieldError as error:
        let_go()
        g.refused = True
        form[named.get(error.field, error.field)].errors = [error.sentence]
