/** A message that cannot be rendered for this recipient. Never sent half empty. */
export class RenderError extends Error {}
