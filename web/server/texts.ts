/** Texts from outside: of bounded length, and nothing in them that the database or a document could not hold. */
import { z } from 'zod';
import { isStorable } from '@mesura/core/model/text';

export const plainText = (longest: number) =>
  z.string().max(longest).refine(isStorable, 'holds a character that cannot be stored');
