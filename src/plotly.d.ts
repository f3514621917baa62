/** What we use of it: the package carries no types. */
declare module "plotly.js-basic-dist-min" {
  const plotly: {
    newPlot(at: HTMLElement, data: unknown[], layout: object, config: object): Promise<unknown>;
    purge(at: HTMLElement): void;
  };
  export default plotly;
}
