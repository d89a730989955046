"""Datums: is it level, is it square, what moved, which reading is wrong."""
