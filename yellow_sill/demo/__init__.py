"""Builds the made-up demo vehicle through the same services that the screens use."""
