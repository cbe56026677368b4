"""Drills and table-tops, gathered."""

from ninja import Router

from practice.api.drills import router as drills
from practice.api.table_tops import router as table_tops

router = Router()
router.add_router("", drills)
router.add_router("", table_tops)
