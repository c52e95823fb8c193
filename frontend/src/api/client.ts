import createClient from "openapi-fetch";
import { ApiError, asProblem } from "./errors";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

export const api = createClient<paths>({ baseUrl: "/" });

/** The data of an answer, or the problem as an error. */
export async function data<T>(request: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const answer = await request;
  if (answer.data !== undefined) return answer.data;
  throw isProblem(answer.error) ? new ApiError(answer.error) : new ApiError(asProblem(answer.error));
}

function isProblem(value: unknown): value is Schemas["Problem"] {
  return typeof value === "object" && value !== null && "title" in value && "detail" in value;
}
