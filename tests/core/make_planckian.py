"""Makes uphill_lamp/core/light/planckian.csv by colour-science: python -m tests.core.make_planckian. Not a test.

The app reads the table, since the library takes a second to load and 1.6 ms for each colour temperature.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np

TABLE = Path(__file__).parents[2] / "uphill_lamp" / "core" / "light" / "planckian.csv"
LOWEST_K, HIGHEST_K, STEP = 1000.0, 40_000.0, 0.004


def planckian_uv(cct_k: float) -> tuple[float, float]:
    """Chromaticity (CIE 1960) of a black body, by the spectrum and the CIE 1931 observer at 1 nm."""
    import colour

    shape = colour.SpectralShape(360, 830, 1)
    spectrum = colour.sd_blackbody(cct_k, shape)
    observer = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
    u, v = colour.UCS_to_uv(colour.XYZ_to_UCS(colour.sd_to_XYZ(spectrum, observer, k=1)))
    return float(u), float(v)


def main() -> None:
    count = int(np.ceil(np.log(HIGHEST_K / LOWEST_K) / np.log1p(STEP)))
    lines = ["cct_k,u,v"]
    for cct_k in LOWEST_K * (1 + STEP) ** np.arange(count + 1):
        u, v = planckian_uv(round(cct_k, 3))
        lines.append(f"{cct_k:.3f},{u:.7f},{v:.7f}")
    TABLE.write_text("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
