import os

__version__ = "0.1.0"

# The matrices here are small: more threads would only wait for each other. Said before NumPy is loaded.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
