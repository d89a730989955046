"""Somebody saved a record while a person had it open: both values are shown, and the person chooses."""

from collections.abc import Iterable
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest

from .fields import NumberField
from .models import ChangedMeanwhile

#: Label, the value a person typed, the stored one.
Row = tuple[Any, Any, Any]


def both_of(
    request: HttpRequest,
    form: forms.Form,
    error: ChangedMeanwhile,
    names: Iterable[str] | None = None,
    rows: Iterable[Row] | None = None,
) -> list[Row]:
    """What differs between a form and the record as it is stored now; the form counts from that record's version on.

    Args: names: the fields to compare, all but the version where left out ("rates-weld" is the "weld" of the record's "rates");
        rows: what to show instead.
    Returns: nothing where somebody has stored the very same: that is told then, and there is nothing left to choose.
    """
    form.data = form.data.copy()
    form.data[form.add_prefix("version")] = error.stored.version
    if rows is None:
        rows = _different(form, error.stored, names)
    found = list(rows)
    if not found:
        messages.success(request, "Stored already, just so.")
    return found


def _different(form: forms.Form, stored: Any, names: Iterable[str] | None) -> Iterable[Row]:
    for name in names or [name for name in form.cleaned_data if name != "version"]:
        yours = form.cleaned_data[name]
        group, _, key = name.partition("-")
        theirs = getattr(stored, group)[key] if key else getattr(stored, name)
        if yours != theirs:
            field = form.fields[name]
            yield (
                str(field.label or name.replace("_", " ")),
                _as_shown(field, yours),
                _as_shown(field, theirs),
            )


def _as_shown(field: forms.Field, value: Any) -> Any:
    """A value as its field shows it, with its unit."""
    if isinstance(field, NumberField) and isinstance(value, (int, float)):
        return f"{field.prepare_value(float(value))} {field.shown_in}".strip()
    if isinstance(value, list):
        return ", ".join(str(_as_shown(field, each)) for each in value) or "none"
    return dict(getattr(field, "choices", ())).get(value, value)


def say_meanwhile(
    request: HttpRequest, error: ChangedMeanwhile, what: str, rows: Iterable[Row] = (), then: str = "do yours"
) -> None:
    """Tell it at the top of the next page, where a deed has no form to show both values in.

    Args: what: what was changed, such as "round 3"; then: what the person may do after a look, such as "correct it".
    """
    who = error.stored.changed_by or "Somebody"
    told = "; ".join(f"{label} is {theirs} now, you wanted {yours}" for label, yours, theirs in rows)
    messages.warning(
        request,
        f"{who} changed {what} meanwhile{': ' if told else ''}{told}. Nothing of yours is stored: look at it, then {then}.",
    )
