"""The station Equipment: units and what they carry."""
