import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  Legend,
  LinearScale,
  Tooltip,
  type Plugin,
} from "chart.js";
import { Download } from "lucide-react";
import { useEffect, useEffectEvent, useRef } from "react";
import { saveFile } from "./save-file.js";

Chart.register(BarController, BarElement, CategoryScale, Legend, LinearScale, Tooltip);

/** One series of a plot: a figure for each group; null where there is none. */
export interface Series {
  readonly name: string;
  readonly figures: readonly (number | null)[];
}

/** Figures as bars, stacked where they add up; a bar that is pressed narrows the records to its group. */
export default function Plot(props: {
  readonly groups: readonly string[];
  readonly series: readonly Series[];
  readonly isStacked: boolean;
  readonly name: string;
  readonly onPick: (group: number, series: number) => void;
}) {
  const { groups, series, isStacked, name, onPick } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<Chart | null>(null);
  const pick = useEffectEvent(onPick);
  useEffect(() => {
    if (canvas.current === null) return;
    const chart = new Chart(canvas.current, {
      type: "bar",
      data: {
        labels: [...groups],
        datasets: series.map((each) => ({ label: each.name, data: [...each.figures] })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { display: series.length > 1, position: "bottom" } },
        scales: { x: { stacked: isStacked }, y: { stacked: isStacked, beginAtZero: true } },
        onClick: (_, [bar]) => {
          if (bar !== undefined) pick(bar.index, bar.datasetIndex);
        },
      },
      plugins: [PAPER],
    });
    drawn.current = chart;
    const paint = () => {
      inColours(chart, canvas.current ?? document.body);
      chart.update();
    };
    paint();
    // Another theme has other colours.
    const observer = new MutationObserver(paint);
    observer.observe(document.documentElement, { attributeFilter: ["data-theme"] });
    return () => {
      observer.disconnect();
      chart.destroy();
    };
  }, [groups, series, isStacked]);
  return (
    <div className="mt-4 w-full max-w-4xl">
      <div className="relative h-72">
        {/* The table beside it says the same. */}
        <canvas ref={canvas} aria-hidden data-plot />
      </div>
      <button
        type="button"
        className="btn mt-2 btn-sm"
        onClick={() => {
          if (drawn.current !== null) saveFile(drawn.current.toBase64Image(), `${name}.png`);
        }}
      >
        <Download className="size-4" aria-hidden /> This plot as PNG
      </button>
    </div>
  );
}

const SERIES = ["primary", "accent", "secondary", "info", "success", "warning", "error", "neutral"];

/** The colours of the theme, as a canvas has them. */
function inColours(chart: Chart, within: HTMLElement): void {
  const style = getComputedStyle(within);
  const colour = (name: string) => plain(style.getPropertyValue(`--color-${name}`));
  chart.data.datasets.forEach((dataset, index) => {
    const own = colour(SERIES[index % SERIES.length] ?? "primary");
    Object.assign(dataset, { backgroundColor: own, hoverBackgroundColor: colour("accent") });
  });
  const [text, line, paper] = ["base-content", "base-300", "base-100"].map(colour);
  const { options } = chart;
  options.color = text ?? "";
  for (const axis of Object.values(options.scales ?? {})) {
    Object.assign(axis ?? {}, { ticks: { color: text }, grid: { color: line } });
  }
  Object.assign(chart.canvas.dataset, { paper });
}

/** A picture that is saved has paper behind it. */
const PAPER: Plugin = {
  id: "paper",
  beforeDraw: ({ ctx, width, height, canvas }) => {
    ctx.save();
    ctx.fillStyle = canvas.dataset.paper ?? "white";
    ctx.fillRect(0, 0, width, height);
    ctx.restore();
  },
};

/** A colour of any notation as red, green and blue. */
function plain(colour: string): string {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [1, 1];
  const context = canvas.getContext("2d");
  if (context === null) return colour;
  context.fillStyle = colour;
  context.fillRect(0, 0, 1, 1);
  const [red = 0, green = 0, blue = 0] = context.getImageData(0, 0, 1, 1).data;
  return `rgb(${red}, ${green}, ${blue})`;
}
