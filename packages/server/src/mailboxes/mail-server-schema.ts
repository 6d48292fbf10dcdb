import Joi from 'joi';

/** The name by which somebody signs in; in what is said to a server a control character would end it. */
export const userName = Joi.string()
  .trim()
  .min(1)
  .max(320)
  .pattern(/^\P{Cc}*$/u)
  .required()
  .label('user name');

/** A mail server as a person names it. */
export const mailServer = Joi.object({
  host: Joi.string().trim().hostname().required(),
  port: Joi.number().port().required(),
  security: Joi.string().valid('tls', 'starttls', 'none').required(),
  trusted: Joi.string()
    .max(20_000)
    .pattern(/^-----BEGIN CERTIFICATE-----\n[A-Za-z0-9+/=\n]+-----END CERTIFICATE-----\n?$/)
    .label('the trusted certificate'),
}).required();
