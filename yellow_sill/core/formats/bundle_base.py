"""What the parts of a bundle share."""

from typing import Annotated

from pydantic import Field

from ..errors import CoreError

PHOTO_FILE = r"^[0-9a-f]{32}\.jpg$"


Text = Annotated[str, Field(max_length=20_000)]


Name = Annotated[str, Field(max_length=150)]


Number = Annotated[int, Field(ge=1, le=1_000_000)]


class BadBundle(CoreError):
    """A file that is no bundle, or one that does not fit together."""

    code = "BAD-BUNDLE"
