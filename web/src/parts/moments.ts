/** A moment of the log as a maker says it. seconds: since 1970. */
export const moment = (seconds: number) =>
  new Date(seconds * 1000).toLocaleString(undefined, {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
