"""The guide: a page a station, read in the window and on paper."""
