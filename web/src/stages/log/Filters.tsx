/** What of the log is looked at: kind, person, step, words. */
import { useState } from "react";
import { Choice } from "../../ui/fields";
import { KIND } from "./kinds";
import type { Filter } from "./useLog";

export function Filters({
  filter,
  onFilter,
  total,
  people,
}: {
  filter: Filter;
  onFilter: (filter: Filter) => void;
  total: number;
  people: string[];
}) {
  const [words, setWords] = useState(filter.words);
  const kinds = [{ id: "", name: "everything" }, ...Object.entries(KIND).map(([id, name]) => ({ id, name }))];
  const names = [...new Set([...(filter.who ? [filter.who] : []), ...people])];
  return (
    <form
      aria-label="Search the log"
      className="flex flex-wrap items-end gap-2 pb-1"
      onSubmit={(event) => {
        event.preventDefault();
        onFilter({ ...filter, words: words.trim() });
      }}
    >
      <div className="w-40">
        <Choice
          label="kind"
          bare
          value={filter.kind}
          options={kinds}
          onChange={(kind) => onFilter({ ...filter, kind: kind as Filter["kind"] })}
        />
      </div>
      <div className="w-36">
        <Choice
          label="person"
          bare
          value={filter.who}
          options={[{ id: "", name: "everybody" }, ...names.map((one) => ({ id: one, name: one }))]}
          onChange={(who) => onFilter({ ...filter, who: who ?? "" })}
        />
      </div>
      <label className="min-w-36 flex-1">
        <span className="sr-only narrow:not-sr-only narrow:field-label">words</span>
        <input
          placeholder="words"
          className="field"
          value={words}
          maxLength={200}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <button type="submit" className="button">
        Search
      </button>
      {filter.step ? (
        <button type="button" className="button" onClick={() => onFilter({ ...filter, step: "" })}>
          Only step {filter.step}: show all
        </button>
      ) : null}
      <p className="pb-2.5 font-label text-quiet" role="status" data-testid="found">
        {total} {total === 1 ? "entry" : "entries"}
      </p>
    </form>
  );
}
