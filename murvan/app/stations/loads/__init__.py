"""The station Loads: what every room needs, and where it comes from."""
