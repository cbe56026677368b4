/** Edits of the document as the core gives them (JSON Patch, RFC 6902), made on a copy. */
import { applyPatch, type Operation } from "rfc6902";
import type { Document } from "../api/types";

export interface Edit {
  op: "add" | "replace" | "remove";
  path: string;
  value?: unknown;
}

export function edited(document: Document, edits: Edit[]): Document {
  const copy = structuredClone(document);
  applyPatch(copy, structuredClone(edits) as Operation[]);
  return copy;
}
