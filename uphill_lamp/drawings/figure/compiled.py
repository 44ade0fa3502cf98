"""How what is written out triangle by triangle is compiled: once per machine, kept, and free of the interpreter's lock.

``./uphill`` says by NUMBA_CACHE_DIR where it is kept; without that it lies beside the modules.
"""

from __future__ import annotations

import numba

compiled = numba.njit(cache=True, nogil=True, fastmath=True)
