/** What a load cell reads, against what is worked out for the step that is now: a minute of it, the peak, the mean. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { answered, api } from "../../device/client";
import type { Cells, LoadCell } from "../../api/types";
import { useSettings } from "../../ui/settings";
import { digits, unitOf } from "../../ui/format";
import type { Samples } from "./samples";
import type { LiveRun } from "./useRun";

const SHOWN_MS = 60_000;
/** A cell that has said nothing for so long is silent. */
const SILENT_MS = 1500;
const TOLD_MS = 250;
/** Drawn so high, and so where there are several. */
const HIGH = 88;
const LOW = 52;

export function useCells(plan: string, live: LiveRun): Cells | null {
  const { run } = live;
  const found = useQuery({
    queryKey: ["cells", plan, run?.at ?? "", run?.revision ?? 0],
    queryFn: async () => answered(await api.GET("/api/plans/{plan_id}/cells", { params: { path: { plan_id: plan } } })),
    placeholderData: (old) => old,
  });
  return found.data ?? null;
}

/** Every cell that sends, one strip each. */
export function Strips({ cells, live, narrow }: { cells: Cells; live: LiveRun; narrow?: boolean }) {
  const heard = useHeard(live);
  const sending = cells.cells.filter((one) => heard.has(one.id));
  const queries = useQueryClient();
  const unknown = [...heard].some((id) => id && !cells.cells.some((one) => one.id === id));
  useEffect(() => {
    if (unknown) void queries.invalidateQueries({ queryKey: ["cells"] });
  }, [unknown, queries]);
  const height = narrow ? 0 : sending.length > 1 ? LOW : HIGH;
  return sending.map((one) => <Strip key={one.id} cell={one} live={live} height={height} />);
}

/** Which cells have been heard in this page. */
function useHeard(live: LiveRun): Set<string> {
  const [ids, set] = useState("");
  useEffect(() => {
    const timer = window.setInterval(() => set([...live.samples.keys()].join(" ")), TOLD_MS);
    return () => window.clearInterval(timer);
  }, [live.samples]);
  return new Set(ids.split(" "));
}

interface Told {
  now: number;
  peak: number;
  mean: number;
  silent: boolean;
}

function toldOf(samples: Samples): Told {
  const from = samples.times.at(-1)! - SHOWN_MS;
  const rows = samples.forces.slice(samples.times.findIndex((at) => at >= from));
  return {
    now: samples.forces.at(-1)!,
    peak: Math.max(...rows),
    mean: rows.reduce((sum, one) => sum + one, 0) / rows.length,
    silent: Date.now() - samples.heardAt > SILENT_MS,
  };
}

function Strip({ cell, live, height }: { cell: LoadCell; live: LiveRun; height: number }) {
  const { samples, connected } = live;
  const [settings] = useSettings();
  const [told, tell] = useState<Told | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const timer = window.setInterval(() => {
      const mine = samples.get(cell.id);
      if (mine) tell(toldOf(mine));
    }, TOLD_MS);
    return () => window.clearInterval(timer);
  }, [cell.id, samples]);
  useEffect(() => {
    let frame = 0;
    const draw = () => {
      const mine = samples.get(cell.id);
      if (canvas.current && mine) drawn(canvas.current, mine, cell, height);
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [cell, samples, height]);
  if (!told) return null;
  const { name: unit, si } = unitOf("N", settings);
  const force = (newtons: number) => (Math.abs(newtons) < 5 ? "0" : digits(newtons / si));
  const { band } = cell;
  const outside = band && (told.now > band.high * 1.05 + 10 || told.now < band.low * 0.95 - 10);
  const predicted = band
    ? `${force(band.low)} to ${force(band.high)} ${unit} worked out for this step`
    : "nothing worked out for this step";
  return (
    <section aria-label={`Load cell ${cell.place_text}`} className="mt-2 bg-film px-3 pt-1 pb-1.5" data-testid="strip">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span
          className={`text-loud leading-none font-semibold ${connected && (told.silent || outside) ? "text-over" : ""}`}
          data-testid="reads"
        >
          {!connected
            ? "not heard here"
            : told.silent
              ? "◆ silent"
              : `${outside ? "◆ " : ""}${force(told.now)} ${unit}`}
        </span>
        <span className="font-label">{cell.place_text}</span>
        <span className="font-label text-quiet">
          {predicted}; a minute: peak {force(told.peak)}, mean {force(told.mean)}
          {cell.simulated ? "; simulated cell" : ""}
        </span>
      </p>
      {height === 0 ? null : (
        <canvas
          ref={canvas}
          className="mt-1 w-full"
          style={{ height }}
          role="img"
          aria-label={`${cell.name}: ${force(told.now)} ${unit}, ${predicted}`}
        />
      )}
    </section>
  );
}

/** The last minute: the predicted band hatched, what it would be with the load stuck as a dashed line, the readings over both. */
function drawn(canvas: HTMLCanvasElement, samples: Samples, cell: LoadCell, height: number): void {
  const scale = window.devicePixelRatio || 1;
  const width = canvas.clientWidth;
  if (canvas.width !== Math.round(width * scale) || canvas.height !== Math.round(height * scale)) {
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
  }
  const pen = canvas.getContext("2d");
  if (!pen) return;
  const style = getComputedStyle(canvas);
  const colour = (name: string) => style.getPropertyValue(name);
  pen.setTransform(scale, 0, 0, scale, 0, 0);
  pen.clearRect(0, 0, width, height);
  const { band, stuck } = cell;
  const from = samples.times.at(-1)! - SHOWN_MS;
  const first = Math.max(
    0,
    samples.times.findIndex((at) => at >= from),
  );
  const rows = samples.forces.slice(first);
  const most =
    1.08 * Math.max(...rows, band?.high ?? 0, Math.max(...rows) > (band?.high ?? 0) * 1.1 ? (stuck?.low ?? 0) : 0);
  const least = Math.min(0.9 * Math.min(...rows, band?.low ?? Infinity), 0);
  const floor = least < 0 ? least : Math.max(0, 0.55 * Math.min(...rows, band?.low ?? Infinity));
  const y = (force: number) => height - 3 - ((force - floor) / Math.max(most - floor, 1)) * (height - 8);
  const x = (at: number) => ((at - from) / SHOWN_MS) * width;
  if (band) {
    const [top, foot] = [y(band.high), y(band.low)];
    pen.save();
    pen.beginPath();
    pen.rect(0, top, width, foot - top);
    pen.clip();
    pen.strokeStyle = colour("--line");
    pen.lineWidth = 1;
    for (let at = -height; at < width; at += 9) {
      pen.beginPath();
      pen.moveTo(at, foot);
      pen.lineTo(at + (foot - top), top);
      pen.stroke();
    }
    pen.restore();
    pen.strokeStyle = colour("--quiet");
    for (const edge of [top, foot]) line(pen, edge, width);
  }
  if (stuck && y(stuck.low) > 2) {
    pen.strokeStyle = colour("--over");
    pen.setLineDash([7, 5]);
    line(pen, y(stuck.low), width);
    pen.setLineDash([]);
    pen.font = '14px "Barlow Semi Condensed", sans-serif';
    const label = "load stuck";
    pen.fillStyle = colour("--film");
    pen.fillRect(0, y(stuck.low) + 2, pen.measureText(label).width + 8, 17);
    pen.fillStyle = colour("--over");
    pen.fillText(label, 4, y(stuck.low) + 15);
  }
  pen.strokeStyle = colour("--ink");
  pen.lineWidth = 2.5;
  pen.beginPath();
  rows.forEach((force, number) => {
    const at = samples.times[first + number]!;
    const gap = number > 0 && at - samples.times[first + number - 1]! > SILENT_MS;
    if (number === 0 || gap) pen.moveTo(x(at), y(force));
    else pen.lineTo(x(at), y(force));
  });
  pen.stroke();
}

function line(pen: CanvasRenderingContext2D, y: number, width: number): void {
  pen.beginPath();
  pen.moveTo(0, y);
  pen.lineTo(width, y);
  pen.stroke();
}
