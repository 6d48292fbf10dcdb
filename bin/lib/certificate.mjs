import { spawnSync } from 'node:child_process';

/**
 * Makes a certificate that signs itself, for tests.
 *
 * @param {{ name: string, cert: string, key: string }} options its name, and the paths of it and of its key
 */
export function makeCertificate({ name, cert, key }) {
  const { status, stderr } = spawnSync(
    'openssl',
    [
      ...['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', `/CN=${name}`],
      ...['-addext', `subjectAltName=DNS:${name}`, '-keyout', key, '-out', cert],
    ],
    { encoding: 'utf8' },
  );
  if (status !== 0) throw new Error(`No certificate could be made: ${stderr}`);
}
