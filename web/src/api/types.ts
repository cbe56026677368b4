/** Short names for the generated types. */
import type { components } from "./schema";

type Schemas = components["schemas"];
export type Document = Schemas["Plan"];
export type Report = Schemas["Report"];
export type PhaseReport = Schemas["PhaseReport"];
export type Phase = PhaseReport["phase"];
export type Figure = Schemas["Figure"];
export type Range = Schemas["Range"];
export type Working = Schemas["Working"];
export type Crossing = Schemas["CrossingReport"];
export type Strand = Schemas["StrandReport"];
export type Rung = Schemas["Rung"];
export type Finding = Schemas["Finding"];
export type HaulSystem = Schemas["HaulSystem"];
export type Catalogue = Schemas["Catalogue"];
export type CatalogueOut = Schemas["CatalogueOut"];
export type Session = Schemas["SessionOut"];
export type Team = Schemas["TeamOut"];
export type Plan = Schemas["PlanOut"];
export type PlanRow = Schemas["PlanRow"];
export type Revision = Schemas["RevisionOut"];
export type Stale = Schemas["StaleOut"];
export type Entry = Schemas["EntryOut"];
export type NewEntry = Schemas["NewEntry"];
export type Fault = Schemas["FaultOut"];
export type Haul = Schemas["Haul"];
export type Point = Schemas["Point"];
