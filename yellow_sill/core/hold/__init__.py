"""What still holds the shape: structure, braces, stands, order of removal."""
