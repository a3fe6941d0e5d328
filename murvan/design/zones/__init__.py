"""Zones: how a house is parted, what every combination of calls does, and what is done with air that is left over."""
