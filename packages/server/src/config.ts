import Joi from 'joi';

/** How a process of Baton was started. */
export interface Config {
  databaseUrl: string;
  host: string;
  port: number;
  /** Where people reach the server: what unsubscribe links begin with. */
  publicUrl: string;
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
  BATON_PUBLIC_URL: Joi.string().uri({ scheme: ['http', 'https'] }),
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
  const v = value as Record<string, string> & { BATON_PORT: number; BATON_SIMULATED_START?: Date };
  return {
    databaseUrl: v['DATABASE_URL'] as string,
    host: v['BATON_HOST'] as string,
    port: v.BATON_PORT,
    publicUrl: (v['BATON_PUBLIC_URL'] ?? `http://${v['BATON_HOST']}:${v.BATON_PORT}`).replace(/\/$/, ''),
    keyFile: v['BATON_KEY_FILE'] as string,
    simulatorUrl: v['BATON_SIMULATOR_URL']?.replace(/\/$/, '') ?? null,
    webDir: v['BATON_WEB_DIR'] ?? null,
    logLevel: v['BATON_LOG_LEVEL'] as string,
    simulatedStartMs: v.BATON_SIMULATED_START?.getTime() ?? null,
  };
}
