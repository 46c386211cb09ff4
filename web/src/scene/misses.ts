/** Bands of what a tube misses of its scan, mm, and their colours: outside in plum, inside in verdigris. */
export const MISS_BANDS = [0.5, 1, 2];
export const MISS_COLOURS = {
  outside: ["#d9cfbb", "#b08fb3", "#8a5f8e", "#5c3360"],
  inside: ["#d9cfbb", "#8fbdb5", "#4c958c", "#1f5a56"],
};
