/** Characters of a password. */
export const passwordLength = { least: 12, most: 128 };
