"""Mild steel, as every room takes it."""

#: Density, 7850 kg/m³.
KG_PER_MM3 = 7.85e-6
#: Heat to warm a cubic millimetre by one degree: density times 490 J/(kg K).
HEAT_CAPACITY_J_PER_MM3K = KG_PER_MM3 * 490.0
