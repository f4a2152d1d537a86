"""Constants with unit and source; each is written down here and nowhere else."""

from __future__ import annotations

import math

GAS_CONSTANT_J_PER_MOL_K = 8.314462618
"""Molar gas constant, exact since the 2019 revision of the SI."""
MOLAR_MASS_DRY_AIR_KG_PER_MOL = 0.0289654
"""Dry air with 400 ppm CO2; Picard et al., Metrologia 45 (2008) 149, eq. 4 (from memory)."""
MOLAR_MASS_WATER_KG_PER_MOL = 0.0180153
"""Water vapour; IUPAC atomic weights."""
ZERO_CELSIUS_K = 273.15
TRIPLE_POINT_K = 273.16
"""Triple point of water."""
STANDARD_PRESSURE_PA = 101325.0
"""Standard atmosphere."""
METRE_PER_INCH = 0.0254
"""Exact (international yard, 1959)."""
METRE_PER_MIL = 25.4e-6
"""One thousandth of an inch, exact."""
STANDARD_A4_HZ = 440.0
"""ISO 16:1975."""
A4_LOW_HZ, A4_HIGH_HZ = 415.0, 466.0
"""Span of orchestra pitches the program accepts."""
AUDIBLE_DECAY_NEPER = 6.907755278982137
"""ln(1000): a fall of 60 dB in amplitude."""
CENTS_PER_OCTAVE = 1200.0
CENTS_PER_HALF_STEP = CENTS_PER_OCTAVE / 12.0
CENTS_PER_NEPER = CENTS_PER_OCTAVE / math.log(2.0)
"""Cents in a factor e of frequency."""
SIGMAS_90 = 1.6448536269514722
"""Half of the central 90 % of a normal distribution, in standard deviations (any table)."""
SIDES = ("batter", "resonant")
"""The heads of a drum, in the order every list of heads is in."""
LOWEST_PITCH_HZ, HIGHEST_PITCH_HZ = 15.0, 2000.0
"""Pitches drums sound, far beyond both ends (common practice)."""
MIN_RODS, MAX_RODS = 4, 24
"""More rods than any drum in use carries (common practice: 6 to 12)."""
AIR_VISCOSITY_PA_S, AIR_VISCOSITY_K, SUTHERLAND_K = 1.716e-5, 273.15, 110.4
"""Sutherland's law for dry air (F. M. White, Viscous Fluid Flow, table 1-2, from memory)."""
PRANDTL_AIR = 0.71
"""Ratio of viscous to thermal diffusion at room temperature (any handbook table, from memory)."""
