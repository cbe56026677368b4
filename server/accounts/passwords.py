"""Passwords that somebody chooses."""

from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError

from rigging.quantities.faults import refuse


def fit(field: str, password: str, user: Any) -> None:
    """Nothing, for one that is long enough and that nobody guesses.

    Raises
    ------
    Refused
        Naming the field, with everything that is wrong.
    """
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise refuse(field, " ".join(error.messages), "choose a longer one that nobody guesses") from error
