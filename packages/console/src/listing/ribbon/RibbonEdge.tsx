import type { KeyboardEvent, PointerEvent } from "react";
import type { EdgePair } from "./ribbon.js";
import { ZOOM_STEP } from "./ribbon-scale.js";

/** One edge of the window on the ribbon, moved by hand or by keys. */
export function RibbonEdge(props: {
  readonly which: keyof EdgePair;
  readonly top: number;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  readonly upIsLater: boolean;
  readonly text: string;
  readonly onMove: (edge: number) => void;
  readonly onZoom: (factor: number) => void;
  readonly onDrag: (clientY: number) => void;
  readonly onDrop: () => void;
}) {
  const { which, top, value, least, most, upIsLater, text, onMove, onZoom, onDrag, onDrop } = props;
  const byKey = (event: KeyboardEvent) => {
    const up = upIsLater ? 1 : -1;
    const steps: Readonly<Record<string, number>> = {
      ArrowUp: up,
      ArrowDown: -up,
      PageUp: 7 * up,
      PageDown: -7 * up,
      Home: least - value,
      End: most - value,
    };
    const zoom = { "+": 1 / ZOOM_STEP, "-": ZOOM_STEP }[event.key];
    if (zoom !== undefined) {
      event.preventDefault();
      onZoom(zoom);
      return;
    }
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    onMove(Math.min(most, Math.max(least, value + step)));
  };
  const isHeld = (event: PointerEvent<HTMLElement>) =>
    event.currentTarget.hasPointerCapture(event.pointerId);
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={which === "start" ? "Beginning of the window" : "End of the window"}
      aria-valuemin={least}
      aria-valuemax={most}
      aria-valuenow={value}
      aria-valuetext={text}
      title={`${text} (+ and - zoom)`}
      className="absolute end-0 flex h-5 w-full -translate-y-1/2 cursor-ns-resize touch-none items-center"
      style={{ top }}
      onKeyDown={byKey}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => {
        if (isHeld(event)) onDrag(event.clientY);
      }}
      onPointerUp={(event) => {
        event.currentTarget.releasePointerCapture(event.pointerId);
        onDrop();
      }}
    >
      <span aria-hidden className="ms-[68px] h-0.5 flex-1 bg-accent" />
      <span aria-hidden className="size-3.5 rotate-45 bg-accent" />
    </div>
  );
}
