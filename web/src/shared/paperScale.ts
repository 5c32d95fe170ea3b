const STORED = "flinz-css-px-per-mm";
/** A CSS pixel is meant to be a ninety-sixth of an inch; screens differ. */
const NOMINAL = 96 / 25.4;

/** CSS pixels in a millimetre on this screen, as measured once with a ruler or a card. */
export function cssPxPerMm(): number {
  const stored = Number(window.localStorage.getItem(STORED));
  return stored > 0.5 && stored < 50 ? stored : NOMINAL;
}

export function isCalibrated(): boolean {
  return window.localStorage.getItem(STORED) !== null;
}

export function keepCssPxPerMm(value: number): void {
  window.localStorage.setItem(STORED, String(value));
}
