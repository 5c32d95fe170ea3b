const STORED = "flinz-recent-inks";
const MOST = 6;
const WRITTEN = /^#[0-9a-f]{6}$/;

/** Colours that were chosen lately in this browser, newest first. */
export function recentInks(): string[] {
  const stored = (window.localStorage.getItem(STORED) ?? "").split(" ");
  return stored.filter((each) => WRITTEN.test(each));
}

/** Put a colour before all others; returns them. */
export function rememberInk(colour: string): string[] {
  const inks = [
    colour.toLowerCase(),
    ...recentInks().filter((each) => each !== colour.toLowerCase()),
  ].slice(0, MOST);
  window.localStorage.setItem(STORED, inks.join(" "));
  return inks;
}
