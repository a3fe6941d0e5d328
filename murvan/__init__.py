"""Murvan: draw a house, work out its heating and cooling, lay out the ducts, prove the result.

The packages, in the order a job flows through them:

    model      the job as data
    physics    laws of nature on NumPy arrays, SI in and SI out
    catalog    shipped data: equipment, assemblies
    design     what a designer decides, one module a stage; `design.solve` runs them
    field      readings, the virtual house, the verdict
    documents  PDF, CSV, XLSX
    app        the window
"""

import os

# Murvan's matrices are small: a second BLAS thread costs more than it gives and fights with the window
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# Murvan has no plugins of pydantic: looking for them reads what every installed package says of itself
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

__version__ = "0.1.0"
