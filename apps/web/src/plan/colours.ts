/** The inks of the plan. */
export const PAPER = '#FBF8F0';
export const INK = '#15233B';
export const CHANNEL = '#1B6E83';
export const RED = '#BF3F2B';
export const AMBER = '#A66D0C';
