import { api, HEADERS, Refusal, take, type Schemas } from "@/api/client";
import { say, useChange } from "@/api/queries";

type BroughtIn = Schemas["BroughtIn"];

/** A build file or a bundle brought in; what was here already is said. */
export function useBringIn() {
  const bring = useChange(async (chosen: File) => {
    const what = /\.zip$/i.test(chosen.name) ? "from-bundle" : "from-file";
    const answer = await fetch(`/api/builds/${what}`, {
      method: "POST",
      body: chosen,
      headers: { ...HEADERS, "content-type": "application/octet-stream" },
    });
    const got = (await answer.json()) as BroughtIn & { detail?: string };
    if (!got.id) throw new Refusal(400, got.detail ?? `${chosen.name} cannot be read`, [], []);
    say([`${got.name} is here, with ${got.pieces.length} pieces.`, ...got.told].join(" "));
  });
  return (event: Event) => {
    const input = event.target as HTMLInputElement;
    if (input.files?.[0]) bring.mutate(input.files[0]);
    input.value = "";
  };
}

/** Everything brought back from a backup; the pages begin anew on it. */
export async function bringBack(file: File) {
  const answer = await fetch("/api/backup/restore", {
    method: "POST",
    body: file,
    headers: { ...HEADERS, "content-type": "application/octet-stream" },
  });
  if (answer.status !== 204) {
    const told = (await answer.json().catch(() => ({}))) as { detail?: string };
    throw new Refusal(answer.status, told.detail ?? `${file.name} cannot be read`, [], []);
  }
}

export const backToCopy = (name: string) =>
  take(api.POST("/api/copies/{name}/restore", { params: { path: { name } } }));
