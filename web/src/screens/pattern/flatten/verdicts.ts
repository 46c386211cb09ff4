/** The mark that a verdict's state is shown with. */
export const STATE = { unknown: "warm", flat: "good", warm: "warm", hard: "hard", split: "stop" } as Record<
  string,
  string
>;
