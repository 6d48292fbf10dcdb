/** 97.5 % and 80 % quantiles of the normal distribution. */
export const Z_975 = 1.959964;
export const Z_80 = 0.841621;
