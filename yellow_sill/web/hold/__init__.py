"""Hold: what still holds the shell while pieces are out."""
