import type { EntryRecord, Running } from "../api/client";

/** A run that is none. */
export const IDLE: Running = {
  is_running: false,
  is_waiting: false,
  ended: 0,
  total: 0,
  shares: {},
};

/** How long a run takes still, in words. */
export function timeLeft(seconds: number): string {
  if (seconds < 50) return `about ${Math.max(1, Math.round(seconds))} s left`;
  if (seconds < 3600) return `about ${Math.max(1, Math.round(seconds / 60))} min left`;
  return `about ${(seconds / 3600).toFixed(1)} h left`;
}

/** How far the files of an edition are: those that are there, that failed, and all that there will be. */
export function counted(entries: EntryRecord[]) {
  const kept = entries.filter((entry) => entry.state !== "left-out");
  const done = kept.filter((entry) => entry.state === "done").length;
  const failed = kept.filter((entry) => entry.state === "failed").length;
  return { all: kept.length, done, failed, left: kept.length - done };
}

/** The share 0..1 of a run that is done. */
export function shareDone(run: Running): number {
  const under = Object.values(run.shares).reduce((sum, share) => sum + share, 0);
  return run.total ? Math.min(1, (run.ended + under) / run.total) : 0;
}

/** What the button that draws says. */
export function drawWords({ all, done, left }: ReturnType<typeof counted>): string {
  const files = (count: number) => (count === 1 ? "1 file" : `${count} files`);
  if (all === 0) return "Draw the files";
  if (left === 0) return "All files are drawn";
  return done === 0 ? `Draw ${files(all)}` : `Go on: ${files(left)} left`;
}
