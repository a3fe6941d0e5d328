"""The place and its air: weather files, the climate they give a job, the conditions it is designed for.

What the next stages call: `conditions.conditions` makes the `conditions.Conditions`; `files.read_weather` and
`place.take_weather` bring a file into a job; `year` shows it month by month.
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
