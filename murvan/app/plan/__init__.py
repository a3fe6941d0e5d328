"""The house plan: `view` pans, zooms and picks; `layers` draw; `labels` finds places for texts."""
