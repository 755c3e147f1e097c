"""`python -m diachrom`."""

import sys

from diachrom.cli import main

sys.exit(main())
