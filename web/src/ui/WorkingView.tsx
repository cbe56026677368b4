/** The working behind a figure: formula, what was put in, what came out, where it comes from. Fetched when asked for. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useContext } from "react";
import { answered, api } from "../device/client";
import type { Figure } from "../api/types";
import { useSettings } from "./settings";
import { WorkingContext } from "./workingContext";
import { said, shown } from "./format";
import { Since } from "./Since";

const ORIGIN: Record<string, string> = {
  S: "published",
  P: "common practice, no source",
  M: "from memory",
  G: "entered",
  C: "computed",
};

interface Props {
  figure: Figure;
  label: string;
  open?: boolean;
}

/** A figure that opens its working. */
export function FigureWithWorking({ figure, label, open }: Props) {
  const [settings] = useSettings();
  const { value, range, unit } = shown(figure, settings);
  return (
    <Disclosure defaultOpen={open ?? false} as="section" className="border-b border-line py-1">
      <DisclosureButton className="group flex min-h-11 w-full items-baseline justify-between gap-3 text-left">
        <span className="font-label">
          <span aria-hidden className="mr-1 inline-block text-quiet group-data-open:rotate-90">
            ▸
          </span>
          {label}
        </span>
        <span className="text-right">
          <b className="text-answer text-over">
            {value} {unit}
          </b>
          {range ? <span className="ml-2 font-label text-over">{range}</span> : null}
        </span>
      </DisclosureButton>
      <DisclosurePanel className="pb-3 font-label text-note">
        <Told figure={figure} ranged={Boolean(range)} />
      </DisclosurePanel>
    </Disclosure>
  );
}

function Told({ figure, ranged }: { figure: Figure; ranged: boolean }) {
  const [settings] = useSettings();
  const about = useContext(WorkingContext);
  const working = useQuery({
    queryKey: ["working", about?.of, about?.state, figure.working, about?.document, settings.force, settings.length],
    enabled: about !== null,
    staleTime: Infinity,
    queryFn: async () =>
      answered(
        await api.POST("/api/working", {
          body: { document: about!.document, figure: figure.working, of: about!.of, state: about!.state },
          params: { query: { force_unit: settings.force, length_unit: settings.length } },
        }),
      ),
  });
  const told = working.data;
  if (!told || !about)
    return (
      <p role="status">{working.isError ? "◆ The working can not be fetched now." : <Since>Working it out.</Since>}</p>
    );
  return (
    <>
      <p className="my-1 text-body font-semibold">{told.formula}</p>
      <table className="w-full">
        <tbody>
          {told.symbols.map((symbol) => (
            <tr key={symbol.symbol + symbol.meaning} className="border-t border-line align-top">
              <td className="pr-2 font-semibold whitespace-nowrap">{symbol.symbol}</td>
              <td className="pr-2 text-quiet">
                {symbol.meaning} <i>[{symbol.source}]</i>
              </td>
              <td className="text-right whitespace-nowrap">{said(symbol, settings)}</td>
            </tr>
          ))}
          {told.steps.map((step) => (
            <tr key={step.text} className="border-t border-line">
              <td />
              <td className="pr-2 text-quiet">{step.text}</td>
              <td className="text-right whitespace-nowrap">{said(step, settings)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {ranged ? (
        <p className="mt-2">
          High when {told.high_when}. Low when {told.low_when}.
        </p>
      ) : null}
      <ul className="mt-2 text-quiet">
        {told.sources.map((source) => (
          <li key={source.id}>
            <i>[{source.id}]</i> {ORIGIN[source.kind]}: {source.text}
          </li>
        ))}
      </ul>
    </>
  );
}
