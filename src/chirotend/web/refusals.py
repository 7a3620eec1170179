"""What a service refuses goes back to the page it came from, with a sentence at its field; nothing of it is kept."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from flask.typing import ResponseReturnValue

from chirotend.core.errors import OutOfRange
from chirotend.services.desk import Refused

View = Callable[..., ResponseReturnValue]


def refusing(page: Callable[[Refused, int], ResponseReturnValue]) -> Callable[[View], View]:
    """Answer what `view` refuses with `page(refusal, 422)`: an answer from 400 on commits nothing."""

    def decorate(view: View) -> View:
        @wraps(view)
        def asked(*args: Any, **kwargs: Any) -> ResponseReturnValue:
            try:
                return view(*args, **kwargs)
            except Refused as error:
                return page(error, 422)
            except OutOfRange as error:
                return page(Refused(error.field, "Choose one of the answers shown."), 422)

        return asked

    return decorate
