"""Endpoints about people: who is signed in, who belongs to a team."""

from ninja import Router

from accounts.api import members, session

router = Router()
router.add_router("", session.router)
router.add_router("", members.router)
