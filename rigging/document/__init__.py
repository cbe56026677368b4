"""The plan document: what the leader decided."""

from rigging.document.plan import *
