/** What stands beside a chart. */
export const chartTexts = {
  savePng: 'Save as PNG',
  saveSvg: 'Save as SVG',
  saveNumbers: 'Save as CSV',
  inFigures: 'In figures',
};
