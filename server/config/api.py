"""Every endpoint, gathered. All but the sign-in and the caution ask for a signed-in person, and check the role."""

from accounts.api import router as accounts
from answering.faults import CarefulParser, add_handlers
from answering.signed_in import SignedIn
from backups.api import router as backups
from core.api import router as core
from debrief.api import router as debrief
from gear.api import router as gear
from handover.api import router as handover
from ninja import NinjaAPI
from operations.api import router as operations
from papers.api import router as papers
from plans.api import router as plans
from practice.api import router as practice
from readings.api import router as readings
from sealing.api import router as sealing
from shelf.api import router as shelf
from survey.api import router as survey

api = NinjaAPI(title="Outrigger", version="1", auth=SignedIn(), parser=CarefulParser(), docs_url=None, openapi_url=None)
add_handlers(api)
for router in (
    accounts,
    backups,
    core,
    debrief,
    gear,
    handover,
    operations,
    papers,
    plans,
    practice,
    readings,
    sealing,
    shelf,
    survey,
):
    api.add_router("", router)
