import type { TimelineAnswer } from "@orisma/core/internal";

/**
 * Pixels of the ribbon, and of what stands beside its bars: so high that both of its ends are on the first screen below
 * a sentence of two lines, and less where it stands above the records.
 */
export const HEIGHT = matchMedia("(min-width: 40rem)").matches
  ? Math.min(560, Math.max(320, innerHeight - 270))
  : 260;
export const WIDTH = 176;
export const LABELS = 68;

/** How much farther off a step of zooming is. */
export const ZOOM_STEP = 1.4;

/** Where units of time lie in a ribbon, and how long their bars are; in pixels. */
export interface RibbonScale {
  /** The height of a unit. */
  readonly step: number;
  /** The records of the fullest unit. */
  readonly most: number;
  /** From the top, where an edge between two units lies. */
  readonly topOf: (edge: number) => number;
  readonly widthOf: (records: number) => number;
}

export function scaleOf(buckets: TimelineAnswer["buckets"], newestFirst: boolean): RibbonScale {
  const step = HEIGHT / buckets.length;
  const most = Math.max(1, ...buckets.map(({ records }) => records));
  return {
    step,
    most,
    topOf: (edge) => (newestFirst ? buckets.length - edge : edge) * step,
    widthOf: (records) =>
      records === 0 ? 0 : Math.max(2, (records / most) * (WIDTH - LABELS - 8)),
  };
}
