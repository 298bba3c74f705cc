/** Set by the server that stands before the application: never taken from outside. */
export const addressHeader = 'x-mesura-address';
export const secureHeader = 'x-mesura-secure';
