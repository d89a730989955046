"""All tests. Hypothesis draws the same examples each time, so that a red run can be run again."""

from hypothesis import settings

settings.register_profile("same", derandomize=True, deadline=None)
settings.load_profile("same")
