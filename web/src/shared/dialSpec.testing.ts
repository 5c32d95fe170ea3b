import type { DialSpec } from "../api/client";

/** A dial for tests, named as its label, from 0 to 10; apart from what is said otherwise. */
export function dialSpec(name: string, more: Partial<DialSpec> = {}): DialSpec {
  return {
    name,
    kind: "dial",
    label: name[0]!.toUpperCase() + name.slice(1),
    hint: "",
    start: 0,
    unit: "",
    minimum: 0,
    maximum: 10,
    low: 0,
    high: 10,
    step: 0.1,
    options: [],
    only_for: {},
    group: "",
    mm_of_one: {},
    mm_times: "",
    idle_at: {},
    ...more,
  };
}
