import { useLayoutEffect, useState } from "react";

/** Functions that do something; what they return is not used. */
type Actions<T> = { [K in keyof T]: (...values: never[]) => unknown };

/** Functions that call the newest ones of the same names. */
class Steady<T extends Actions<T>> {
  readonly calls: T;
  private newest: T;

  constructor(actions: T) {
    this.newest = actions;
    const names = Object.keys(actions) as (keyof T)[];
    const call = (name: keyof T) => {
      return (...values: never[]) => this.newest[name](...values);
    };
    this.calls = Object.fromEntries(names.map((name) => [name, call(name)])) as T;
  }

  renew(actions: T): void {
    this.newest = actions;
  }
}

/**
 * The same functions at every render, which call those of the newest: what they are handed to is
 * not drawn again because of them. The names must stay the same.
 */
export function useSteady<T extends Actions<T>>(actions: T): T {
  const [steady] = useState(() => new Steady(actions));
  useLayoutEffect(() => steady.renew(actions));
  return steady.calls;
}

/** The first value that was equal to this one: the same object for as long as it is equal. */
export function useSame<T>(value: T): T {
  const [held, hold] = useState(value);
  if (held === value || JSON.stringify(held) === JSON.stringify(value)) return held;
  hold(value);
  return value;
}
