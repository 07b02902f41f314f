/** Takes the focus where what had it is gone: as a ref of what stands in its place. */
export function keepFocus(element: HTMLElement | null): void {
  if (element !== null && document.activeElement === document.body) element.focus();
}
