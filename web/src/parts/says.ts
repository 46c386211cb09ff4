import type { ObjectDirective } from "vue";

type Field = HTMLInputElement | HTMLTextAreaElement;

const written = new WeakSet<Field>();

function show(field: Field, value: unknown) {
  const words = String(value ?? "");
  if (!written.has(field) && field.value !== words) field.value = words;
}

/**
 * `v-says`: what a field says unless a hand is writing in it. A bound `value` is set again whenever the screen is
 * drawn, so that an answer coming meanwhile would wipe what is being typed.
 */
export const says: ObjectDirective<Field, unknown> = {
  created(field) {
    field.addEventListener("input", () => written.add(field));
    for (const over of ["change", "blur"]) field.addEventListener(over, () => written.delete(field));
  },
  mounted: (field, { value }) => show(field, value),
  updated: (field, { value }) => show(field, value),
};

declare module "vue" {
  interface GlobalDirectives {
    vSays: typeof says;
  }
}
