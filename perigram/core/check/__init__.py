"""What can be said about a region before it is cut."""
