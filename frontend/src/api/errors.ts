import type { components } from "./schema";

export type Problem = components["schemas"]["Problem"];

/** A problem that the server named, or that it could not be reached. */
export class ApiError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

const UNREACHABLE: Problem = {
  title: "Tidy Tinder does not answer",
  detail: "The program may have been stopped. Start it again with “tidy-tinder serve” or “make demo”; nothing was lost.",
  status: 0,
  where: [],
};

/** Whatever was thrown, as a problem that can be shown. */
export function asProblem(error: unknown): Problem {
  return error instanceof ApiError ? error.problem : UNREACHABLE;
}
