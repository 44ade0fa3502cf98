"""Answers of Frame: how high, how tilted, how far (docs/method/frame.md, "Solvers").

The closed forms hold on the lens axis at small tilt; scene.aiming starts from them and finds the root in the projection.
"""

from __future__ import annotations

from uphill_lamp.core.document.setup import Setup


def distance_for_head_share_m(head_m: float, head_share: float, half_height: float) -> float:
    """Distance at which a head of a height fills a share of the picture's height: d = head/(2 h v) [m]."""
    return head_m / (2 * head_share * half_height)


def books_for(rise_m: float, thicknesses_m: list[float]) -> list[int] | None:
    """Which books, by index, come closest to a rise; the fewest on a tie; None without books [m].

    Exact over all subsets of up to 14 books (the thickest are kept if more lie about).
    """
    if not thicknesses_m or rise_m <= 0:
        return None
    kept = sorted(range(len(thicknesses_m)), key=lambda index: -thicknesses_m[index])[:14]
    sums = {0: 0.0}
    for position, index in enumerate(kept):
        sums |= {chosen | 1 << position: total + thicknesses_m[index] for chosen, total in sums.items()}
    best = min(sums, key=lambda chosen: (round(abs(sums[chosen] - rise_m), 4), chosen.bit_count()))
    return [kept[position] for position in range(len(kept)) if best >> position & 1] or None


def book_list(setup: Setup) -> list[tuple[str, float]]:
    """Books that lie about, by name and thickness [m], as the kit lists them."""
    return [(item.name, item.thickness_m) for item in setup.kit if item.entry == "book" and item.thickness_m for _ in range(item.count)]
