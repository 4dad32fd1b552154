declare module "plotly.js-basic-dist-min" {
  import type * as PlotlyTypes from "plotly.js";
  const Plotly: typeof PlotlyTypes;
  export default Plotly;
}
