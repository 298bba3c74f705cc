/** How the sheets of a project are written. */
import { z } from 'zod';
import { choice } from './fields';

export const sheetLanguages = ['en', 'de', 'fr', 'es'] as const;
export type SheetLanguage = (typeof sheetLanguages)[number];

export const sheetSettingsSchema = z.object({
  /** Of units, and of what stands above the columns of values: whoever enters them reads it. */
  language: choice('Language of units', sheetLanguages),
  /** Further fields of the title block, such as the number of the job. */
  titleLines: z
    .array(
      z.object({
        title: z.string().trim().min(1, 'must not be empty').max(30).meta({ title: 'Field' }),
        text: z.string().trim().max(60).meta({ title: 'Text' }),
      }),
    )
    .max(4)
    .meta({ title: 'Title block' }),
});
export type SheetSettings = z.infer<typeof sheetSettingsSchema>;

export const usualSheetSettings: SheetSettings = { language: 'en', titleLines: [] };
