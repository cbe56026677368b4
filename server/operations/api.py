"""The log and the run, gathered."""

from ninja import Router

from operations.live_api import router as live
from operations.log_api import router as log
from operations.run_api import router as run

router = Router()
router.add_router("", log)
router.add_router("", run)
router.add_router("", live)
