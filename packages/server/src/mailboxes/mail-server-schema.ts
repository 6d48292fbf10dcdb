import Joi from 'joi';

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
