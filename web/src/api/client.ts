import createClient from "openapi-fetch";
import type { components, paths } from "@/../generated/schema";

export type Schemas = components["schemas"];
export type Build = Schemas["Build"];
export type Reply = Schemas["Reply"];
export type Sheet = Schemas["Sheet"];
export type Section = Schemas["Section"];
export type Field = Schemas["Field"];
export type FigureView = Schemas["FigureView"];
export type FindingView = Schemas["FindingView"];
export type WorkingView = Schemas["WorkingView"];
export type StampView = Schemas["StampView"];
export type Picture = Sheet["picture"];
export type PictureOf<K extends Picture["kind"]> = Extract<Picture, { kind: K }>;
export type Entry = Schemas["Entry"];
export type SumView = Schemas["SumView"];
export type Answer = Schemas["Answer"];

/** By this header the service knows its own page: no other one can set it. */
const OWN = { "x-zinc-whistle": "page" };
export const api = createClient<paths>({ baseUrl: "/", headers: OWN });

/** A refusal of the service, with its sentence. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly body: unknown = null,
  ) {
    super(message);
  }
}

type Result<T> = { data?: T; error?: unknown; response: Response };

/** The data of a reply; a refusal is thrown with the service's own sentence. */
export async function take<T>(promise: Promise<Result<T>>): Promise<T> {
  const result = await reached(promise);
  if (result.error !== undefined || !result.response.ok) throw refused(result.response.status, result.error);
  return result.data as T;
}

/** Sends a file or fetches one, which the typed client does not do; refusals are thrown as by {@link take}. */
export async function transfer(address: string, init?: RequestInit): Promise<Response> {
  const response = await reached(fetch(address, { ...init, headers: { ...OWN, ...init?.headers } }));
  if (!response.ok) throw refused(response.status, await response.json().catch(() => null));
  return response;
}

type Sending = { signal?: AbortSignal; headers?: Record<string, string> };

/** {@link transfer} of a file to the service; the reply's JSON is taken as T, a refusal names the file. */
export async function sendFile<T>(address: string, file: File, type: string, how: Sending = {}): Promise<T> {
  try {
    const headers = { ...how.headers, "content-type": type };
    const init = { method: "POST", headers, body: file, signal: how.signal };
    return (await (await transfer(address, init)).json()) as T;
  } catch (error) {
    if (error instanceof Refused && error.status)
      throw new Refused(`${file.name}: ${error.message}`, error.status, error.body);
    throw error;
  }
}

async function reached<T>(promise: Promise<T>): Promise<T> {
  try {
    return await promise;
  } catch {
    throw new Refused("The service does not answer. Is it still running?", 0);
  }
}

function refused(status: number, body: unknown): Refused {
  const detail = (body as { detail?: unknown } | null | undefined)?.detail;
  return new Refused(typeof detail === "string" ? detail : "That was refused.", status, body ?? null);
}
