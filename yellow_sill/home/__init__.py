"""The folder that a person's data lives in: looked over at each start, backed up, restored. Knows no Django."""
