from importlib import import_module

from django.apps import AppConfig
from django.utils.html import escape

from yellow_sill.core.said import Said

from .stages import add_stage


class FrameConfig(AppConfig):
    name = "yellow_sill.web.frame"
    label = "frame"
    default = True

    def ready(self) -> None:
        """Messages say themselves in the reader's units and terms wherever a page shows them."""
        from . import units

        setattr(Said, "__html__", lambda message: escape(units.said(message)))  # noqa: B010 - not the core's own


class StageConfig(AppConfig):
    """An app with a stage of its own, in its module ``stage``."""

    default = False

    def ready(self) -> None:
        add_stage(import_module(f"{self.name}.stage").STAGE)
