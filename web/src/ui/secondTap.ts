/** How long after a tap another on the same place is taken for the same, in milliseconds. */
export const secondTap = 500;
