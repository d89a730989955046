"""What keeps the metal: products and their clocks, what may go over what, closing a box."""
