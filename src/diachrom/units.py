"""What other units are in those that are counted in: ml, bar, mm, m. Exact by definition but for the fluid ounce (US)
and the psi, which are rounded to six digits (NIST Special Publication 811, appendix B)."""

FL_OZ_ML = 29.5735
PSI_BAR = 0.0689476
INCH_MM = 25.4
MIL_UM = 25.4
FOOT_M = 0.3048

# As they are written, lower case; the first is the one that is counted in.
ML = {"ml": 1.0, "cl": 10.0, "l": 1000.0, "fl oz": FL_OZ_ML, "oz": FL_OZ_ML}
BAR = {"bar": 1.0, "psi": PSI_BAR, "kpa": 0.01}
MM = {"mm": 1.0, "in": INCH_MM}
MICROLITRES = {"µl": 1.0, "ul": 1.0, "ml": 1000.0}
DENSITY = {"g/ml": 1.0}
