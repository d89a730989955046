from django.apps import AppConfig
from django.utils.html import escape

from yellow_sill.core.said import Said


class FrameConfig(AppConfig):
    name = "yellow_sill.web.frame"
    label = "frame"

    def ready(self) -> None:
        """Messages say themselves in the reader's units and terms wherever a page shows them."""
        from . import units

        Said.__html__ = lambda message: escape(units.said(message))
