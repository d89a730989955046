"""Addresses of the order of removal."""

from collections.abc import Sequence
from urllib.parse import urlencode

from django import template

register = template.Library()


@register.simple_tag
def order_query(ticked: Sequence[str], steps: Sequence[str], find: str) -> str:
    """The query that shows an order of the ticked parts, beside the search that runs for them."""
    return urlencode(
        [*(("job", part) for part in ticked), *(("step", step) for step in steps), ("find", find)]
    )
