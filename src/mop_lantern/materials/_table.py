"""Figures of common solids at room temperature: conductivity W/m/K, density kg/m3, heat capacity J/kg/K.

Sources: [I] Incropera, DeWitt, Bergman and Lavine, *Fundamentals of Heat and Mass Transfer* (7th ed.), Tables
A.1 to A.3, at 300 K; [E] EN ISO 10456:2007, Table 3 and 4. All written down from memory. [P] common practice,
no source. Building materials vary by a fifth and more with make and moisture.
"""

from __future__ import annotations

TABLE: dict[str, tuple[str, float, float, float, str]] = {
    "aluminium": ("aluminium, pure", 237.0, 2702.0, 903.0, "I"),
    "brass": ("brass", 110.0, 8530.0, 380.0, "I"),
    "copper": ("copper, pure", 401.0, 8933.0, 385.0, "I"),
    "cast_iron": ("cast iron", 50.0, 7500.0, 450.0, "E"),
    "steel": ("carbon steel", 60.5, 7854.0, 434.0, "I"),
    "stainless": ("stainless steel 304", 14.9, 7900.0, 477.0, "I"),
    "titanium": ("titanium", 21.9, 4500.0, 522.0, "I"),
    "brick": ("common brick", 0.72, 1920.0, 835.0, "I"),
    "concrete": ("concrete", 1.4, 2300.0, 880.0, "I"),
    "plasterboard": ("plasterboard", 0.21, 700.0, 1000.0, "E"),
    "glass": ("glass", 1.4, 2500.0, 750.0, "I"),
    "ground": ("ground, clay or silt", 1.5, 1500.0, 2000.0, "E"),
    "softwood": ("softwood, across the grain", 0.12, 510.0, 1380.0, "I"),
    "oak": ("oak, across the grain", 0.17, 545.0, 2385.0, "I"),
    "pvc": ("PVC", 0.17, 1390.0, 900.0, "E"),
    "polyethylene": ("polyethylene, high density", 0.50, 980.0, 1800.0, "E"),
    "acrylic": ("acrylic glass", 0.20, 1180.0, 1500.0, "E"),
    "polyester": ("polyester resin", 0.19, 1400.0, 1200.0, "E"),
    "rubber": ("rubber", 0.13, 910.0, 1100.0, "E"),
    "polystyrene": ("polystyrene foam", 0.040, 16.0, 1210.0, "I"),
    "polyurethane": ("polyurethane foam", 0.028, 30.0, 1400.0, "P"),
    "mineral_wool": ("mineral wool", 0.040, 60.0, 1030.0, "P"),
}
