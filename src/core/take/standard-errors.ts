/** Keeps two strings at one pitch from a division by nothing. */
const RIDGE = 1e-6;

/** A column of a fit, and the bins in which it is not nothing. */
export interface Column {
  values: Float64Array;
  bins: Int32Array;
}

/** Standard errors of a weighted least-squares fit: the roots of the diagonal of (AᵀWA)⁻¹, by Cholesky. */
export function standardErrors(columns: readonly Column[], weights: Float64Array): Float64Array {
  const n = columns.length;
  const times = (a: Column, b: Column) => {
    let product = 0;
    for (const bin of a.bins) product += weights[bin]! * a.values[bin]! * b.values[bin]!;
    return product;
  };
  const scales = columns.map((column) => Math.sqrt(times(column, column)) || 1e-9);
  const lower = columns.map(() => new Float64Array(n));
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = (i === j ? RIDGE : 0) + times(columns[i]!, columns[j]!) / (scales[i]! * scales[j]!);
      for (let k = 0; k < j; k++) sum -= lower[i]![k]! * lower[j]![k]!;
      lower[i]![j] = i === j ? Math.sqrt(Math.max(RIDGE, sum)) : sum / lower[j]![j]!;
    }
  return Float64Array.from(columns, (_, at) => {
    // One column of the inverse of the lower triangle; its square is the diagonal of the inverse.
    const x = new Float64Array(n);
    let square = 0;
    for (let i = at; i < n; i++) {
      let sum = i === at ? 1 : 0;
      for (let k = at; k < i; k++) sum -= lower[i]![k]! * x[k]!;
      x[i] = sum / lower[i]![i]!;
      square += x[i]! ** 2;
    }
    return Math.sqrt(square) / scales[at]!;
  });
}
