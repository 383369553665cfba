import { BarChart, CustomChart, LineChart, ScatterChart } from 'echarts/charts'
import {
  AriaComponent,
  DatasetComponent,
  DataZoomComponent,
  DataZoomInsideComponent,
  GridComponent,
  MarkAreaComponent,
  MarkLineComponent,
  MarkPointComponent,
  ToolboxComponent,
  TooltipComponent,
} from 'echarts/components'
import { init, use as register } from 'echarts/core'
import { CanvasRenderer } from 'echarts/renderers'

register([
  AriaComponent,
  BarChart,
  CanvasRenderer,
  CustomChart,
  DatasetComponent,
  DataZoomComponent,
  DataZoomInsideComponent,
  GridComponent,
  LineChart,
  MarkAreaComponent,
  MarkLineComponent,
  MarkPointComponent,
  ScatterChart,
  ToolboxComponent,
  TooltipComponent,
])

export { init }
