/**
 * What is asked when. After a change the maker first sees what the screen is about; the rest comes when the hands
 * rest, tells the server that it can wait, and is dropped when the next change is made.
 */

/** How a question is asked: it can be stopped, and says by its header when it comes after others. */
export type Asking = {
  signal: AbortSignal;
  headers?: Record<string, string>;
};

/** Said with a question that can wait for what the maker looks at. */
export const AFTER = { "X-Turn": "after" };

let screen = "";
/** The screen that is shown from now on. */
export const showing = (name: string) => (screen = name);
export const shown = () => screen;

/** Names of the questions that each screen is about. Questions of no work to the server are asked whenever. */
const ABOUT: Record<string, readonly string[]> = {
  builds: ["builds"],
  wearer: ["sets", "completed", "body"],
  wrap: ["cast", "wrap"],
  ink: ["ink", "sheet"],
  flatten: ["pattern", "laid"],
  foam: ["pattern", "foam"],
  heat: ["heat"],
  cut: ["pattern", "pages"],
  bench: ["steps"],
  finish: ["finish"],
  rig: ["rig", "figure"],
  fit: ["fits", "versions"],
  together: ["costume"],
  "cut-list": ["cut-list"],
  nest: ["nest"],
  cutter: ["cutter", "cutter-play"],
  supplies: ["supplies"],
  worn: ["figure", "movement", "wear"],
  workshop: ["owned", "paces", "craft"],
  trace: ["traces", "trace"],
  logbook: ["log"],
};

/** Whether a screen is about this question, so that it is asked first and of nobody else's time. */
export const isAbout = (screen: string, name: string) => (ABOUT[screen] ?? []).includes(name);

/** Never asked again by a change: what does not change while the program runs. */
const FIXED = ["catalogue"];

/** Which questions are asked anew at once after a change, and which when the hands rest. */
export function turnsAfterChange(screen: string, names: readonly string[]) {
  const moving = names.filter((name) => !FIXED.includes(name));
  return {
    first: moving.filter((name) => isAbout(screen, name)),
    after: moving.filter((name) => !isAbout(screen, name)),
  };
}

/** Hands that have not changed anything for so long are at rest, ms. */
export const REST = 350;

/** Runs what was asked last, once hands rest: each new call puts it off. */
export class Later {
  private waits: ReturnType<typeof setTimeout> | undefined;
  constructor(private readonly rest = REST) {}

  put(act: () => void) {
    this.drop();
    this.waits = setTimeout(() => {
      this.waits = undefined;
      act();
    }, this.rest);
  }

  /** What waits is not done. */
  drop() {
    clearTimeout(this.waits);
    this.waits = undefined;
  }
}

/** Names that are due to be asked anew, each once, however often a change made them due. */
export class Due {
  private readonly names = new Set<string>();

  add(names: Iterable<string>) {
    for (const name of names) this.names.add(name);
  }

  /** All that is due, or those that a screen is about, which then are due no more. */
  take(screen?: string): string[] {
    const due = [...this.names].filter((name) => screen === undefined || isAbout(screen, name));
    for (const name of due) this.names.delete(name);
    return due;
  }
}
