/** The day, as origins and states keep it. */
export const today = (): string => new Date().toISOString().slice(0, 10);
