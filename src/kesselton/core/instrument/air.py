"""Moist air: density and speed of sound."""

from __future__ import annotations

import math
from dataclasses import dataclass

from kesselton.core import constants as const
from kesselton.core.errors import check_range
from kesselton.core.language import _

COLDEST_C, HOTTEST_C = -20.0, 50.0
"""Air that anyone plays or stores a drum in."""


@dataclass(frozen=True)
class Air:
    """The air in and around the drum."""

    temperature_c: float = 20.0
    relative_humidity: float = 0.5
    pressure_pa: float = const.STANDARD_PRESSURE_PA

    def __post_init__(self) -> None:
        check_range(
            self.temperature_c, COLDEST_C, HOTTEST_C, _("Temperature"), "°C", "air.temperature_c"
        )
        check_range(
            self.relative_humidity, 0.0, 1.0, _("Relative humidity"), "", "air.relative_humidity"
        )
        check_range(self.pressure_pa, 5e4, 1.2e5, _("Air pressure"), "Pa", "air.pressure_pa")

    @property
    def water_fraction(self) -> float:
        """Mole fraction of water vapour (theory eq. 1).

        References
        ----------
        ISO 9613-1:1993, annex B, eqs. B.1 to B.3 (from memory).
        """
        kelvin = self.temperature_c + const.ZERO_CELSIUS_K
        exponent = -6.8346 * (const.TRIPLE_POINT_K / kelvin) ** 1.261 + 4.6151
        saturation_pa = const.STANDARD_PRESSURE_PA * math.pow(10.0, exponent)
        return self.relative_humidity * saturation_pa / self.pressure_pa

    @property
    def density_kg_per_m3(self) -> float:
        """Density of the mixture as an ideal gas (theory eq. 1); within 0.1 % from -20 to 50 °C."""
        return (
            self.pressure_pa
            * self._molar_mass()
            / (const.GAS_CONSTANT_J_PER_MOL_K * (self.temperature_c + const.ZERO_CELSIUS_K))
        )

    @property
    def sound_speed_m_per_s(self) -> float:
        """Speed of sound of the mixture as an ideal gas (theory eq. 1); within 0.1 %.

        Notes
        -----
        Air carries 5 and water vapour 6 active degrees of freedom at room temperature.
        """
        kelvin = self.temperature_c + const.ZERO_CELSIUS_K
        gas = const.GAS_CONSTANT_J_PER_MOL_K / self._molar_mass()
        return math.sqrt(self.heat_ratio * gas * kelvin)

    @property
    def heat_ratio(self) -> float:
        """Ratio of the specific heats."""
        freedom = 5.0 * (1.0 - self.water_fraction) + 6.0 * self.water_fraction
        return 1.0 + 2.0 / freedom

    @property
    def viscosity_pa_s(self) -> float:
        """Dynamic viscosity of dry air by Sutherland's law; vapour changes it by under 1 %."""
        kelvin = self.temperature_c + const.ZERO_CELSIUS_K
        warmth = (kelvin / const.AIR_VISCOSITY_K) * math.sqrt(kelvin / const.AIR_VISCOSITY_K)
        slow = (const.AIR_VISCOSITY_K + const.SUTHERLAND_K) / (kelvin + const.SUTHERLAND_K)
        return const.AIR_VISCOSITY_PA_S * warmth * slow

    def _molar_mass(self) -> float:
        water = self.water_fraction
        return (
            1.0 - water
        ) * const.MOLAR_MASS_DRY_AIR_KG_PER_MOL + water * const.MOLAR_MASS_WATER_KG_PER_MOL
