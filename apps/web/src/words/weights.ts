/** How heavy letters are, in words. */
const NAMES: Record<number, string> = {
  100: 'thin',
  200: 'extra light',
  300: 'light',
  400: 'regular',
  500: 'medium',
  600: 'semibold',
  700: 'bold',
  800: 'extra bold',
  900: 'black',
};
export const weightName = (weight: number): string => NAMES[weight] ?? String(weight);
/** To choose from. */
export const WEIGHTS = Object.entries(NAMES).map(([value, name]) => ({ value, label: `${name[0]?.toUpperCase()}${name.slice(1)}` }));
