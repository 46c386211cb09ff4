/** Asked before the rest of the pages is read: every screen begins with the list of builds. */

/** This window's own word, which outlives a reload: the server tells by it whose change is whose. */
function ownTab() {
  const known = sessionStorage.getItem("tab") ?? crypto.randomUUID();
  sessionStorage.setItem("tab", known);
  return known;
}

/** Refusals come as answers, so a question to the maker is no error on the browser's console. */
export const HEADERS = { Prefer: "problem-as-answer", "X-Tab": ownTab() };

const BUILDS = "/api/builds";
let underWay: Promise<Response> | undefined = fetch(BUILDS, { headers: HEADERS });

/** The answer of a question that was asked early, once; any other is asked now. */
export function asked(request: Request): Promise<Response> {
  const early = request.method === "GET" && new URL(request.url).pathname === BUILDS ? underWay : undefined;
  if (early) underWay = undefined;
  return early ?? fetch(request);
}
