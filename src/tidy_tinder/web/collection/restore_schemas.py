"""What a collection is restored from: apart from the other schemas, since taking in files loads much."""

from __future__ import annotations

from tidy_tinder.web.endpoint import UploadedFile
from tidy_tinder.web.shared.base import Asked


class RestoreForm(Asked):
    """A backup, as the browser sends it."""

    file: UploadedFile
