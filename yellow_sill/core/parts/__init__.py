"""Money: exact amounts in a currency, rounded in one home."""
