"""`python -m jentrik`."""

import sys

from jentrik.cli import main

sys.exit(main())
