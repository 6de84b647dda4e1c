"""What a lead carries: amps of a single flexible copper cord by its section."""

from __future__ import annotations

from yellowbath.core.data import require_provenance, table

_SLACK = 1.05  # a size is told to a twentieth


def ampacity(area_m2: float) -> float:
    """Amps that a cord of this section [m2] carries in free air, lower ends of the tables.

    Under the thinnest row in proportion to its section, above the thickest as that row.

    >>> ampacity(2.5e-6)
    20.0
    """
    rows = table("cords")["rows"]
    for row in rows:
        require_provenance("cords", row)
    fitting = [float(r["amps"]) for r in rows if r["area_m2"] <= area_m2 * _SLACK]
    least = rows[0]
    return fitting[-1] if fitting else float(least["amps"]) * area_m2 / float(least["area_m2"])


def thickness_for(amps: float) -> float | None:
    """The thinnest section [m2] of the table that carries so many amps; None beyond it."""
    carrying = (float(r["area_m2"]) for r in table("cords")["rows"] if r["amps"] >= amps)
    return next(carrying, None)
