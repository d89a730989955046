"""The record: found again, told in order, handed over."""
