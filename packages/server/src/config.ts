import Joi from 'joi';

/** How a process of Baton was started. */
export interface Config {
  databaseUrl: string;
  host: string;
  port: number;
  /** Where the pages for recipients are served, and nothing else. */
  publicHost: string;
  publicPort: number;
  /** In the demo: what links to these pages begin with. */
  publicAddress: string | null;
  keyFile: string;
  /** Control address of the simulator, in the demo and in tests. */
  simulatorUrl: string | null;
  webDir: string | null;
  logLevel: string;
  /** First time only: whether the workspace goes by simulated time, and where that begins. */
  simulatedStartMs: number | null;
}

const environment = Joi.object({
  DATABASE_URL: Joi.string()
    .uri({ scheme: ['postgres', 'postgresql'] })
    .required(),
  BATON_HOST: Joi.string().hostname().default('127.0.0.1'),
  BATON_PORT: Joi.number().port().default(4310),
  BATON_PUBLIC_HOST: Joi.string().hostname().default('127.0.0.1'),
  BATON_PUBLIC_PORT: Joi.number().port().default(4311),
  BATON_PUBLIC_ADDRESS: Joi.string().uri({ scheme: ['http', 'https'] }),
  BATON_KEY_FILE: Joi.string().required(),
  BATON_SIMULATOR_URL: Joi.string().uri({ scheme: ['http'] }),
  BATON_WEB_DIR: Joi.string(),
  BATON_LOG_LEVEL: Joi.string().valid('silent', 'error', 'warn', 'info', 'debug').default('warn'),
  BATON_SIMULATED_START: Joi.date().iso(),
}).unknown(true);

/** @throws Error naming the variable that is missing or wrong */
export function readConfig(env: NodeJS.ProcessEnv): Config {
  const { value, error } = environment.validate(env, { convert: true });
  if (error) throw new Error(`Baton cannot start: ${error.message}.`);
  const v = value as Record<string, string> & {
    BATON_PORT: number;
    BATON_PUBLIC_PORT: number;
    BATON_SIMULATED_START?: Date;
  };
  return {
    databaseUrl: v['DATABASE_URL'] as string,
    host: v['BATON_HOST'] as string,
    port: v.BATON_PORT,
    publicHost: v['BATON_PUBLIC_HOST'] as string,
    publicPort: v.BATON_PUBLIC_PORT,
    publicAddress: v['BATON_PUBLIC_ADDRESS']?.replace(/\/$/, '') ?? null,
    keyFile: v['BATON_KEY_FILE'] as string,
    simulatorUrl: v['BATON_SIMULATOR_URL']?.replace(/\/$/, '') ?? null,
    webDir: v['BATON_WEB_DIR'] ?? null,
    logLevel: v['BATON_LOG_LEVEL'] as string,
    simulatedStartMs: v.BATON_SIMULATED_START?.getTime() ?? null,
  };
}
