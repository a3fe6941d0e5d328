"""Constants with unit and source."""

GRAVITY_M_S2 = 9.80665  # exact, standard
STANDARD_PRESSURE_PA = 101325.0  # exact
STANDARD_DENSITY_KG_M3 = 1.2014  # 0.075 lb/ft3, the trade's standard air
CP_AIR_J_KGK = 1006.0  # dry air near 20 degC, ASHRAE Handbook Fundamentals ch. 1
H_FG_J_KG = 2.501e6  # heat of vaporisation at 0 degC, same
CP_VAPOUR_J_KGK = 1860.0  # same
SOLAR_CONSTANT_W_M2 = 1367.0  # ASHRAE clear-sky model
VISCOSITY_PA_S = 1.82e-5  # air at 20 degC (CoolProp: 1.814e-5)
TRADE_AIR_FACTOR = 1.08  # Btu/h per cfm and degF at 0.075 lb/ft3, common practice
"""1.08 = 60 min/h x 0.075 lb/ft3 x 0.24 Btu/lb degF."""
FLOAT_TINY = 1e-12
CFM_M3_S = 0.3048**3 / 60  # exact
TON_W = 12000 * 1055.05585262 / 3600  # exact: 12,000 Btu/h
