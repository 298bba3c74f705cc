/** Problems with the place they concern. Bad engineering data gives these, never an exception. */
import type { z } from 'zod';
import type { ElementId } from './fields';

export type Severity = 'error' | 'warning' | 'assumed';

export interface Problem {
  severity: Severity;
  /** Stable code, for tests and for links into the guide. */
  code: string;
  message: string;
  /** The element concerned, when there is one. */
  element?: ElementId;
  /** Path of the field inside the element, such as `max.ikKa`. */
  field?: string;
  /** All elements concerned, when they are several. */
  elements?: readonly ElementId[];
  /** What to do about it. */
  todo?: string;
  proposal?: ProblemProposal;
}

/** What would put a problem right: said in words, and the fields it changes together; none where a person has to choose. */
export interface ProblemProposal {
  readonly text: string;
  readonly takes: readonly { readonly path: string; readonly value: number }[];
}

/** The problems of a failed Zod parse, each with its path below `prefix`. */
export function problemsOf(error: z.ZodError, prefix = '', element?: ElementId): Problem[] {
  return error.issues.map((issue) => {
    const path = [prefix, ...issue.path.map(String)].filter(Boolean).join('.');
    return {
      severity: 'error',
      code: 'data.invalid',
      message: path ? `${path}: ${issue.message}` : issue.message,
      element,
      field: issue.path.map(String).join('.'),
    };
  });
}
