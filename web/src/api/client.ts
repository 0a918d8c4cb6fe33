import createClient from "openapi-fetch";
import type { components, paths } from "@/../generated/schema";

type Schemas = components["schemas"];
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

export const api = createClient<paths>({ baseUrl: "/" });

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
  let result: Result<T>;
  try {
    result = await promise;
  } catch {
    throw new Refused("The service does not answer. Is it still running?", 0);
  }
  if (result.error !== undefined || !result.response.ok) {
    const detail = (result.error as { detail?: unknown } | undefined)?.detail;
    throw new Refused(
      typeof detail === "string" ? detail : "That was refused.",
      result.response.status,
      result.error ?? null,
    );
  }
  return result.data as T;
}
