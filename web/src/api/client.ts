import createClient from "openapi-fetch";
import { asked, HEADERS } from "./early";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Build = Schemas["BuildOut"];
export type Piece = Schemas["PieceOut"];
export type Design = Schemas["PieceDesign-Output"];
export type DesignIn = Schemas["PieceDesign-Input"];
export type Pattern = Schemas["PatternOut"];
export type Panel = Schemas["PanelOut"];
export type Flat = Schemas["FlatOut"];
export type Advice = Schemas["AdviceOut"];
export type Cut = Schemas["Stroke-Output"];
export type Note = Schemas["Note"];
export type Value = Schemas["Value"];
export type Finding = Schemas["Finding"];
export type Cast = Schemas["CastOut"];
export type Timer = Schemas["TimerOut"];
export type Measurements = Schemas["Measurements-Output"];
export type MeasurementsIn = Schemas["Measurements-Input"];
export type Question = Schemas["Question"];
export type Settings = Schemas["Settings-Output"];

export const api = createClient<paths>({ baseUrl: "/", headers: HEADERS, fetch: asked });

/** Sent with a change: how the thing stood when the change began, so that no other window's change is written over. */
export const seen = (thing: { tag: string }) => ({ "If-Match": `"${thing.tag}"` });

/** What the server refused, in its own sentences. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly fields: { field: string; message: string }[],
    readonly questions: Question[],
  ) {
    super(detail);
  }
}

/** A whole file as it is; what the server makes of it, or a Refusal. gone: told how much of it has gone out. */
export function sendFile<T>(path: string, file: File, gone: (share: number) => void = () => {}): Promise<T> {
  // `fetch` does not tell how much has gone out yet.
  const request = new XMLHttpRequest();
  const answered = new Promise<Answer<T>>((answer, fail) => {
    request.onload = () => answer(answerOf<T>(request));
    request.onerror = () => fail(new Error("no answer"));
  });
  request.open("POST", path);
  const headers = { ...HEADERS, "content-type": "application/octet-stream" };
  for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
  request.upload.onprogress = (event) => event.lengthComputable && gone(event.loaded / event.total);
  request.send(file);
  return take(answered);
}

function answerOf<T>(request: XMLHttpRequest): Answer<T> {
  const headers = { "content-type": request.getResponseHeader("content-type") ?? "" };
  const empty = request.status === 204;
  const response = new Response(empty ? null : request.responseText, { status: request.status, headers });
  try {
    return { response, data: empty ? undefined : (JSON.parse(request.responseText) as T) };
  } catch {
    return { response, data: {} as T };
  }
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or a Refusal. */
export async function take<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await answer;
  } catch {
    throw new Refusal(0, "Vellumcut does not answer. Is it still running in its window?", [], []);
  }
  const refused = got.response.headers.get("content-type") === "application/problem+json";
  if (got.response.ok && !refused) return got.data as T;
  const problem = (got.error ?? got.data ?? {}) as Partial<Schemas["ProblemOut"]>;
  throw new Refusal(
    problem.status ?? got.response.status,
    problem.detail ?? "Something went wrong",
    problem.fields ?? [],
    problem.questions ?? [],
  );
}
