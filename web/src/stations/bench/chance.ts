/** A number for a fault or a sum that nobody has had yet. */
export const anyNumber = () => 1 + Math.floor(Math.random() * 999_999_999);
