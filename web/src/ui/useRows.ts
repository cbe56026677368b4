/** Rows of a list with names of their own, so that what is typed in one stays with it when another goes. */
import { useRef } from "react";
import { newId } from "../device/newId";

export interface Rows {
  key: (index: number) => string;
  /** Said before a row is taken out of its list, or put in. */
  gone: (index: number) => void;
  put: (index: number) => void;
}

export function useRows(count: number): Rows {
  const keys = useRef<string[]>([]);
  while (keys.current.length < count) keys.current.push(newId());
  if (keys.current.length > count) keys.current.length = count;
  return {
    key: (index) => keys.current[index]!,
    gone: (index) => void keys.current.splice(index, 1),
    put: (index) => void keys.current.splice(index, 0, newId()),
  };
}
