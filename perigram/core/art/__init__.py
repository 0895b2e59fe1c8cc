"""Pictures read from files, and ready shapes."""
