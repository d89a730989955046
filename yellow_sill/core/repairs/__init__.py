"""The life of a repair: its states, hours and how far it is."""
