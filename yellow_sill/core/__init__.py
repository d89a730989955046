"""The rules of the trade: values in, values out. No Django, no files, no clock, no global state."""
