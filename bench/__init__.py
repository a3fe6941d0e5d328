"""Speed, as figures and ratios measured in one run: `./run bench`."""
