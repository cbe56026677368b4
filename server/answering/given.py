"""JSON that comes beside a file, as a field of a form."""

from typing import TypeVar

from pydantic import BaseModel, ValidationError

from rigging.quantities.faults import Refused, faults_of

Model = TypeVar("Model", bound=BaseModel)


def given(model: type[Model], text: str) -> Model:
    """A field's JSON as what it stands for.

    Raises
    ------
    Refused
        Every fault in it, by its path.
    """
    try:
        return model.model_validate_json(text)
    except ValidationError as error:
        raise Refused(faults_of(error)) from error
