"""A plan handed over: as a signed bundle read back elsewhere, and as a link by which an outside reader looks on until a date."""
