import { computed } from "vue";
import { useSettings } from "@/api/queries";
import { length, sentence, type Unit } from "./lengths";

export * from "./lengths";

/** Lengths and sentences in the maker's unit. */
export function useUnit() {
  const settings = useSettings();
  const unit = computed<Unit>(() => settings.data.value?.unit ?? "mm");
  return {
    unit,
    show: (mm: number) => length(mm, unit.value),
    bare: (mm: number) => length(mm, unit.value, false),
    say: (text: string) => sentence(text, unit.value),
  };
}
