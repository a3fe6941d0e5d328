"""`python -m murvan`."""

import sys

from murvan.cli import main

sys.exit(main())
