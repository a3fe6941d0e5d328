"""The eight stations, one file each, and the start page."""
