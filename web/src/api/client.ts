import createClient, { type Middleware } from "openapi-fetch";
import { useDoor } from "./door";
import type { components, paths } from "./schema";
import { send } from "./send";

type Schemas = components["schemas"];
export type Design = Schemas["Design"];
export type Line = Design["recipe"][number];
export type Ply = Schemas["Ply"];
export type Start = Schemas["StartOut"];
export type MaterialChoice = Schemas["ChoiceOut"];
export type Material = Schemas["Material"];
export type Lettering = Extract<Line, { kind: "letter" }>;
export type Row = Lettering["rows"][number];
export type Gap = Schemas["Gap"];
export type OwnLetter = Row["own"][number];
export type Part = Schemas["PartOut"];
export type LetterForm = Schemas["FormOut"];
export type Feature = Schemas["FeatureOut"];
export type GlyphGroup = Schemas["GlyphGroup"];
export type Habits = Schemas["HabitsOut"];
export type Arrangement = Schemas["ArrangeIn"]["how"];
export type ArrangeTo = Schemas["ArrangeIn"]["to"];
export type Place = Schemas["Place"];
export type Kind = Schemas["KindOut"];
export type Slot = Schemas["SlotOut"];
export type Basics = Schemas["BasicsOut"];
export type Range = Schemas["RangeOut"];
export type Curve = Schemas["CurveOut"];
export type Piece = Schemas["PieceOut"];
export type Pick = Schemas["Pick"];
export type Anchor = Schemas["Anchor"];
export type Handle = Schemas["HandleOut"];
export type Shaping = Schemas["ShapingOut"];
export type RailShape = Schemas["RailShape"];
export type Proof = Schemas["ProofOut"];
export type Result = Schemas["ResultOut"];
export type Finding = Schemas["FindingOut"];
export type Picture = Schemas["PictureOut"];
export type Font = Schemas["FontOut"];
export type FontPreview = Schemas["FontPreview"];
export type Session = Schemas["Session"];
export type DesignState = Schemas["DesignState"];
export type PastState = Schemas["PastState"];
export type Saved = Schemas["Saved"];
export type SheetsLaid = Schemas["SheetsOut"];
export type SheetLaid = Schemas["SheetOut"];
export type Machine = Schemas["Machine"];
export type Machines = Schemas["MachinesOut"];
export type CutJob = Schemas["JobOut"];
export type JobSeen = Schemas["JobSeen"];
export type Cutter = Schemas["CutterOut"];
export type Stick = Schemas["StickOut"];
export type PressPlan = Schemas["PlanOut"];
export type PressStep = Schemas["StepOut"];
export type RemovedEntry = Schemas["RemovedEntry"];
export type Edited = Schemas["EditedOut"];
export type ShelfEntry = Schemas["ShelfEntry"];
export type Box = [number, number, number, number];

/** A letter where it lies: its row, and its first character's place in that row as typed, both from 0. */
export interface PlacedLetter {
  row: number;
  at: number;
  text: string;
  d: string;
  box: Part["box"];
}

/** What the server said was wrong, in a sentence that can be shown as it is. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

async function problemOf(response: Response): Promise<Problem> {
  try {
    const body = (await response.json()) as Record<string, unknown>;
    return new Problem(response.status, String(body.detail ?? response.statusText), body);
  } catch {
    return new Problem(response.status, "The server gave no understandable answer. Try again.");
  }
}

/** A refused call; one that says the session is over also makes the bench ask for the password. */
async function refusalOf(response: Response): Promise<Problem> {
  if (response.status === 401 && !response.url.endsWith("/api/session")) useDoor.getState().setOut(true);
  return problemOf(response);
}

const withProblems: Middleware = {
  async onResponse({ response }) {
    if (!response.ok) throw await refusalOf(response);
  },
  onError() {
    return new Problem(0, "The server cannot be reached. Your work stays here and is saved as soon as it can.");
  },
};

export const api = createClient<paths>({ baseUrl: "/", fetch: send });
api.use(withProblems);

/**
 * The answer's data; the middleware has thrown already where there is none. Its type is named at the
 * call, because the client widens the schema's tuples to plain arrays.
 */
export async function data<T>(call: Promise<{ data?: unknown }>): Promise<T> {
  return (await call).data as T;
}

async function sendFile<T>(address: string, file: File): Promise<T> {
  const form = new FormData();
  form.append("file", file);
  const response = await send(new Request(address, { method: "POST", body: form }));
  if (!response.ok) throw await refusalOf(response);
  return (await response.json()) as T;
}

export const sendPicture = (file: File) => sendFile<Picture>("/api/pictures", file);
export const sendFont = (file: File) => sendFile<Font>("/api/fonts", file);

/** Cut files of one revision of a design; refused where another is stored by now. */
export async function fetchCutFiles(design: string, revision: number, formats: string[]): Promise<Blob> {
  const query = new URLSearchParams([["revision", String(revision)], ...formats.map((format) => ["format", format])]);
  const response = await send(new Request(`/api/designs/${design}/cut-files?${query}`));
  if (!response.ok) throw await refusalOf(response);
  return response.blob();
}

/** What is made of one revision of a design: its sheets as the shop's cutter reads them, or its press plan. */
export async function fetchMade(design: string, what: "sheet-files" | "press-plan.pdf", revision: number): Promise<Blob> {
  const response = await send(new Request(`/api/designs/${design}/${what}?revision=${revision}`));
  if (!response.ok) throw await refusalOf(response);
  return response.blob();
}
