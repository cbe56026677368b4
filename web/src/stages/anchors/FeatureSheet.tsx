/** One candidate: where it is, its inspection in the trade's words, what it holds with the working, and the verdict. */
import { Radio, RadioGroup } from "@headlessui/react";
import { useState } from "react";
import type { Catalogue, Feature, FeatureReport, Question } from "../../api/types";
import { Choice, NumberField, TextField } from "../../ui/fields";
import { upperFirst } from "../../ui/format";
import { Sheet } from "../../ui/Sheet";
import { FigureWithWorking } from "../../ui/WorkingView";
import { VERDICTS } from "./Candidates";

interface Props {
  feature: Feature;
  index: number;
  report: FeatureReport | undefined;
  caution: string;
  catalogue: Catalogue;
  canEdit: boolean;
  inUse: boolean;
  onChange: (change: Partial<Feature>) => void;
  onRemove: () => void;
  onClose: () => void;
}

export function FeatureSheet({
  feature,
  index,
  report,
  caution,
  catalogue,
  canEdit,
  inUse,
  onChange,
  onRemove,
  onClose,
}: Props) {
  const kind = catalogue.features[feature.kind];
  const off = !canEdit;
  const at = `features[${index}]`;
  const answer = (id: string, value: string | number | null) => {
    const rest = Object.fromEntries(Object.entries(feature.answers).filter(([name]) => name !== id));
    onChange({ answers: value === null ? rest : { ...rest, [id]: value } });
  };
  const rate = (key: "low" | "expected" | "high", value: number | null) => {
    if (value === null) return onChange({ rating_n: null });
    const old = feature.rating_n ?? { low: value, expected: value, high: value };
    return onChange({ rating_n: { ...old, [key]: value } });
  };
  return (
    <Sheet title={feature.name} onClose={onClose}>
      <div className="grid grid-cols-2 gap-2">
        <TextField
          label="Name"
          path={`${at}.name`}
          value={feature.name}
          disabled={off}
          onChange={(name) => onChange({ name })}
        />
        <Choice
          label="Kind"
          value={feature.kind}
          options={Object.values(catalogue.features)}
          disabled={off}
          onChange={(id) => id && onChange({ kind: id, answers: {} })}
        />
      </div>
      <div className="mt-1 grid grid-cols-3 gap-2">
        <NumberField
          label="Out"
          unit="m"
          path={`${at}.x_m`}
          value={feature.x_m}
          disabled={off}
          onChange={(x_m) => onChange({ x_m: x_m! })}
        />
        <NumberField
          label="Right"
          unit="m"
          path={`${at}.y_m`}
          value={feature.y_m ?? 0}
          disabled={off}
          onChange={(y_m) => onChange({ y_m: y_m! })}
        />
        <NumberField
          label="Up"
          unit="m"
          path={`${at}.z_m`}
          value={feature.z_m ?? 0}
          disabled={off}
          onChange={(z_m) => onChange({ z_m: z_m! })}
        />
      </div>
      <h3 className="mt-3 font-semibold">Look at</h3>
      <div className="grid grid-cols-2 items-end gap-x-2 gap-y-1.5">
        {kind?.questions.map((question) => (
          <Ask
            key={question.id}
            question={question}
            path={at}
            value={feature.answers?.[question.id] ?? null}
            disabled={off}
            onAnswer={(value) => answer(question.id, value)}
          />
        ))}
      </div>
      {report?.doubts.map((doubt) => (
        <p key={doubt} role="alert" className="mt-1 border-l-4 border-over bg-tint px-2 py-1 font-semibold text-over">
          ◇ {doubt}
        </p>
      ))}
      <h3 className="mt-3 font-semibold">What it holds</h3>
      {report?.holds ? (
        <FigureWithWorking figure={report.holds} label={`${feature.name} holds`} />
      ) : (
        <p className="text-over">{report ? `◆ ${report.why_not}` : "◇ being worked out"}</p>
      )}
      {report?.limit ? <p className="font-label">{upperFirst(report.limit)}.</p> : null}
      {report?.higher_up ? <p className="font-label font-semibold">{report.higher_up}</p> : null}
      <details className="mt-1" open={feature.rating_n !== null && feature.rating_n !== undefined}>
        <summary className="min-h-11 cursor-pointer py-2.5 font-label">Enter a rating in place of the estimate</summary>
        <div className="grid grid-cols-3 gap-2">
          {(["low", "expected", "high"] as const).map((key) => (
            <NumberField
              key={key}
              label={`Holds, ${key}`}
              unit="N"
              optional
              path={key === "low" ? `${at}.rating_n` : undefined}
              value={feature.rating_n?.[key] ?? null}
              disabled={off}
              onChange={(value) => rate(key, value)}
            />
          ))}
        </div>
        <TextField
          label="Basis of that"
          path={at}
          value={feature.basis ?? ""}
          disabled={off}
          onChange={(basis) => onChange({ basis })}
        />
      </details>
      <Judge feature={feature} report={report} disabled={off} onChange={onChange} />
      {report?.guard ? (
        <div className="mt-2 border-l-4 border-over px-2">
          <p className="font-semibold">{upperFirst(report.guard)}.</p>
          <TextField
            label="Guarded by"
            value={feature.guard ?? ""}
            disabled={off}
            onChange={(guard) => onChange({ guard })}
          />
        </div>
      ) : null}
      <button
        type="button"
        className="button mt-4"
        disabled={off || inUse}
        title={inUse ? "A leg is tied to it" : ""}
        onClick={onRemove}
      >
        Take it off the list
      </button>
      <p className="mt-3 font-label text-note text-quiet">{caution}</p>
    </Sheet>
  );
}

function Ask({
  question,
  path,
  value,
  disabled,
  onAnswer,
}: {
  question: Question;
  path: string;
  value: string | number | null;
  disabled: boolean;
  onAnswer: (value: string | number | null) => void;
}) {
  if (question.kind === "number")
    return (
      <NumberField
        label={question.ask}
        unit={question.unit}
        optional
        path={`${path}.answers.${question.id}`}
        value={typeof value === "number" ? value : null}
        disabled={disabled}
        onChange={onAnswer}
      />
    );
  const options =
    question.kind === "yes-no"
      ? [
          { id: "yes", name: "Yes" },
          { id: "no", name: "No" },
        ]
      : (question.options ?? []);
  if (options.length > 3)
    return (
      <Choice
        label={question.ask}
        none="not answered"
        value={typeof value === "string" ? value : null}
        options={options}
        disabled={disabled}
        onChange={onAnswer}
      />
    );
  const bad = question.bad?.[String(value)];
  return (
    <RadioGroup
      value={value}
      onChange={onAnswer}
      disabled={disabled}
      aria-label={question.ask}
      className={question.kind === "yes-no" && question.ask.length < 26 ? "" : "col-span-2"}
    >
      <p className="field-label">{question.ask}</p>
      <div className="flex flex-wrap gap-1">
        {options.map((option) => (
          <Radio
            key={option.id}
            value={option.id}
            className="flex min-h-11 cursor-pointer items-center border-[1.5px] border-ink px-3 data-checked:bg-ink data-checked:font-semibold data-checked:text-sheet"
          >
            {option.name}
          </Radio>
        ))}
      </div>
      {bad ? <p className="font-label text-note font-semibold text-over">◇ {bad.why}</p> : null}
    </RadioGroup>
  );
}

/** The leader's verdict beside the one the inspection leads to; a rejection waits for its reason. */
function Judge({
  feature,
  report,
  disabled,
  onChange,
}: {
  feature: Feature;
  report: FeatureReport | undefined;
  disabled: boolean;
  onChange: Props["onChange"];
}) {
  const [rejecting, setRejecting] = useState<string | null>(null);
  const inspected = VERDICTS.find((one) => one.id === report?.verdict);
  const choose = (verdict: string) => {
    if (verdict === "reject") setRejecting(feature.reason ?? "");
    else {
      setRejecting(null);
      onChange({ verdict: verdict as NonNullable<Feature["verdict"]> });
    }
  };
  return (
    <section className="mt-3">
      <h3 className="font-semibold">Verdict</h3>
      {report ? (
        <p className="font-label">
          By inspection: <b>{inspected?.name ?? "not judged yet"}</b>. {report.reasons.join("; ")}
        </p>
      ) : null}
      <RadioGroup
        value={rejecting !== null ? "reject" : (feature.verdict ?? "")}
        onChange={choose}
        disabled={disabled}
        aria-label="Verdict"
        className="mt-1 flex flex-wrap gap-1"
      >
        {VERDICTS.map((one) => (
          <Radio
            key={one.id}
            value={one.id}
            className="flex min-h-11 cursor-pointer items-center border-[1.5px] border-ink px-3 data-checked:bg-ink data-checked:font-semibold data-checked:text-sheet"
          >
            {one.mark} {one.name}
          </Radio>
        ))}
      </RadioGroup>
      {rejecting !== null ? (
        <div className="mt-1">
          <TextField
            label="Rejected because (kept with the plan)"
            value={rejecting}
            disabled={disabled}
            onChange={(reason) => {
              setRejecting(reason);
              if (reason.trim()) onChange({ verdict: "reject", reason });
            }}
          />
          {rejecting.trim() ? null : (
            <p className="font-label text-note font-semibold text-over">◆ say why before it counts</p>
          )}
        </div>
      ) : (
        <>
          <TextField
            label="Because"
            value={feature.reason ?? ""}
            disabled={disabled}
            onChange={(reason) => onChange({ reason })}
          />
          {report?.verdict === "reject" && feature.verdict && feature.verdict !== "reject" ? (
            <>
              <TextField
                label="Judged so, against its inspection, by"
                value={feature.judged_by ?? ""}
                disabled={disabled}
                onChange={(judged_by) => onChange({ judged_by })}
              />
              {feature.judged_by?.trim() && feature.reason?.trim() ? null : (
                <p className="font-label text-note font-semibold text-over">
                  ◆ the rejection stands until somebody by name says why not
                </p>
              )}
            </>
          ) : null}
        </>
      )}
    </section>
  );
}
