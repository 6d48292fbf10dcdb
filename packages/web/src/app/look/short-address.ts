/** ines@ for ines@tidewaterkelp.example. */
export const shortAddress = (address: string): string => `${address.split('@')[0]}@`;
