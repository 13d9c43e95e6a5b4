/** The header by which an answer says of which moment of the shop’s clock its figures are, where that is not now. */
export const AS_OF_HEADER = 'x-yomble-as-of'
