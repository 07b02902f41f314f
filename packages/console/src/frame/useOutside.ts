import { useEffect, useEffectEvent, type RefObject } from "react";

/** Says when something outside of a place is pressed, for as long as it is asked for; what is inside is its own. */
export function useOutside(
  place: RefObject<HTMLElement | null>,
  onOutside: (target: Element) => void,
  isOn = true,
): void {
  const report = useEffectEvent(({ target }: Event) => {
    if (!(target instanceof Element) || place.current?.contains(target) === true) return;
    onOutside(target);
  });
  useEffect(() => {
    if (!isOn) return;
    const listen = (event: Event) => report(event);
    document.addEventListener("pointerdown", listen);
    return () => document.removeEventListener("pointerdown", listen);
  }, [isOn]);
}
