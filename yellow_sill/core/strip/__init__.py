"""What came off, where it is, and how it goes back."""
