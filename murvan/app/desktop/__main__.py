"""`python -m murvan.app.desktop RUN`."""

import sys

from murvan.app.desktop import main

sys.exit(main())
