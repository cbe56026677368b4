"""Field types that the whole document shares."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from rigging.catalogue import catalogue

Name = Annotated[str, Field(min_length=1, max_length=120)]
Text = Annotated[str, Field(max_length=2000)]
Metres = Annotated[float, Field(ge=-5000, le=5000)]
Ratio = Annotated[float, Field(ge=1, le=100)]


def known(table: str, value: str) -> str:
    """`value`, if the catalogue's table has it."""
    ids = getattr(catalogue(), table)
    if value not in ids:
        raise ValueError(f"{value!r} is not in the catalogue of {table}; one of {', '.join(ids)}")
    return value


@dataclass(frozen=True)
class In:
    """The id of an entry of one of the catalogue's tables; where `field` is given, of one that has it so: what is `wrong` with another, and what
    would be `right`."""

    table: str
    field: str = ""
    so: Any = True
    wrong: str = ""
    right: str = ""

    @property
    def ids(self) -> list[str]:
        entries = getattr(catalogue(), self.table).items()
        return [id for id, one in entries if not self.field or getattr(one, self.field) == self.so]

    def check(self, value: str) -> str:
        known(self.table, value)
        if self.field and value not in self.ids:
            raise ValueError(f"{value!r} {self.wrong}; {self.right or 'one of ' + ', '.join(self.ids)}")
        return value

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self.check, core_schema.str_schema())

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        # Which ids there are stands in the published schema; types made from this one take any.
        return {"type": "string", "x-catalogue": [self.table, self.field, self.so] if self.field else [self.table]}


AttachmentId = Annotated[str, In("attachments")]
BendId = Annotated[str, In("bends")]
ConnectorId = Annotated[str, In("connectors")]
CordId = Annotated[str, In("slings", "cord", wrong="is no cord to tie a hitch with")]
DeviceId = Annotated[str, In("devices")]
FeatureKindId = Annotated[str, In("features")]
HitchId = Annotated[str, In("hitches")]
JoinId = Annotated[str, In("knots", "bend", wrong="joins no two lengths", right="name a bend")]
KnotId = Annotated[str, In("knots")]
MinutesId = Annotated[str, In("minutes")]
ProtectionId = Annotated[
    str,
    In("surfaces", "role", "protection", "is bare ground, not a protection", "leave it empty or name a pad or roller"),
]
RopeKindId = Annotated[str, In("ropes")]
SchemeId = Annotated[str, In("schemes")]
SlingId = Annotated[str, In("slings")]
SlipsId = Annotated[
    str, In("devices", "gives", "slips", "is not known to slip", "name a device that slips, or leave it out")
]
SurfaceId = Annotated[str, In("surfaces")]
