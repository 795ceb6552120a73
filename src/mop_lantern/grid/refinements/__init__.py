"""Where a grid is made finer: one file a kind.

A kind gives ``wanted(numbers, centres, sizes, plane, base)``: the largest cell size (m) wanted at each cell, inf where
it does not care. ``plane`` is the shape, `Plane` or `Surface`; ``centres`` is (n, 2 or 3) m, ``sizes`` (n,) m, ``base`` the size of an unrefined cell, m.
"""
