/** A logarithmic scale: where a value lies between the two ends of a picture. */
export const logScale =
  ([low, high]: readonly [number, number], [from, to]: readonly [number, number]) =>
  (value: number) =>
    from + ((Math.log(value) - Math.log(low)) / (Math.log(high) - Math.log(low))) * (to - from);
