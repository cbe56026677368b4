/** The working behind a figure: formula, what was put in, what came out, where it comes from. */
import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import type { Catalogue, Figure, Report } from "../api/types";
import { useSettings } from "../app/settings";
import { said, shown } from "./format";

interface Props {
  figure: Figure;
  report: Pick<Report, "workings">;
  catalogue: Catalogue;
  open?: boolean;
}

const ORIGIN: Record<string, string> = { S: "published", P: "common practice, no source", M: "from memory", G: "entered", C: "computed" };

/** A figure that opens its working. */
export function FigureWithWorking({ figure, report, catalogue, open }: Props) {
  const [settings] = useSettings();
  const working = report.workings[figure.working];
  const { value, range, unit } = shown(figure, settings);
  if (!working) return null;
  const sources = [...new Set(working.symbols.map((symbol) => symbol.source))].flatMap((id) => catalogue.sources[id] ?? []);
  return (
    <Disclosure defaultOpen={open ?? false} as="section" className="border-b border-line py-1">
      <DisclosureButton className="group flex min-h-11 w-full items-baseline justify-between gap-3 text-left">
        <span className="font-label">
          <span aria-hidden className="mr-1 inline-block text-quiet group-data-open:rotate-90">
            ▸
          </span>
          {working.title}
        </span>
        <span className="text-right">
          <b className="text-lg text-over">
            {value} {unit}
          </b>
          {range ? <span className="ml-2 font-label text-over">{range}</span> : null}
        </span>
      </DisclosureButton>
      <DisclosurePanel className="pb-3 font-label text-[15px]">
        <p className="my-1 text-[17px] font-semibold">{working.formula}</p>
        <table className="w-full">
          <tbody>
            {working.symbols.map((symbol) => (
              <tr key={symbol.symbol + symbol.meaning} className="border-t border-line align-top">
                <td className="pr-2 font-semibold whitespace-nowrap">{symbol.symbol}</td>
                <td className="pr-2 text-quiet">
                  {symbol.meaning} <i>[{symbol.source}]</i>
                </td>
                <td className="text-right whitespace-nowrap">{said(symbol, settings)}</td>
              </tr>
            ))}
            {working.steps.map((step) => (
              <tr key={step.text} className="border-t border-line">
                <td />
                <td className="pr-2 text-quiet">{step.text}</td>
                <td className="text-right whitespace-nowrap">{said(step, settings)}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {range ? (
          <p className="mt-2">
            High when {working.high_when}. Low when {working.low_when}.
          </p>
        ) : null}
        <ul className="mt-2 text-quiet">
          {sources.map((source) => (
            <li key={source.id}>
              <i>[{source.id}]</i> {ORIGIN[source.kind]}: {source.text}
            </li>
          ))}
        </ul>
      </DisclosurePanel>
    </Disclosure>
  );
}
