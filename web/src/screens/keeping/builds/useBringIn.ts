import { sendFile, type Schemas } from "@/api/client";
import { say, useChange } from "@/api/queries";

/** A build file or a bundle brought in; what was here already is said. */
export function useBringIn() {
  const bring = useChange(async (chosen: File) => {
    const what = /\.zip$/i.test(chosen.name) ? "from-bundle" : "from-file";
    const got = await sendFile<Schemas["BroughtIn"]>(`/api/builds/${what}`, chosen);
    say([`${got.name} is here, with ${got.pieces.length} pieces.`, ...got.told].join(" "));
  });
  return (event: Event) => {
    const input = event.target as HTMLInputElement;
    if (input.files?.[0]) bring.mutate(input.files[0]);
    input.value = "";
  };
}
