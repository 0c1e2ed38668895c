/**
 * The fields of elements that can take on the value of a template's parameter, each with the kind of parameter that it takes. The
 * schema, what stands in for an instance and the fields on the bench all go by this table.
 */
export const PARAMETER_FIELDS = { text: 'text', source: 'feed', picture: 'picture', empty: 'number', full: 'number' } as const;
export type ParameterField = keyof typeof PARAMETER_FIELDS;
