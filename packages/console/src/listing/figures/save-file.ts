/** Saves what stands at an address under a name. */
export function saveFile(address: string, name: string): void {
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
}
