import { CustomChart, LineChart, ScatterChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use } from 'echarts/core';
import { CanvasRenderer, SVGRenderer } from 'echarts/renderers';

use([CustomChart, LineChart, ScatterChart, GridComponent, TooltipComponent, SVGRenderer, CanvasRenderer]);

export { init };
