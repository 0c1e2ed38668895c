/** The three heights of the strip: the selected row, a list, or every row as a thin line. */
export const HEIGHT_NAMES = { one: 'one row', rows: 'rows', all: 'all' };
/** Of the strip and of a row, CSS pixels. */
export const HEIGHT_PX = { one: 56, rows: 220, all: 320 };
export const ROW_PX = { one: 24, rows: 24, all: 6 };
export const NAME_PX = 280;
