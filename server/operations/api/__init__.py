"""The log and the run, gathered."""

from ninja import Router

from operations.api.live import router as live
from operations.api.log import router as log
from operations.api.run import router as run

router = Router()
router.add_router("", log)
router.add_router("", run)
router.add_router("", live)
