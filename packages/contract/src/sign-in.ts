/** A provider at which people sign in, as a person describes it; endpoints are https, or http on this machine. */
export interface SignInProviderChoices {
  name: string;
  /** Its issuer identifier (RFC 8414); '' where its endpoints are typed by hand. */
  issuer: string;
  authorizationEndpoint: string;
  tokenEndpoint: string;
  clientId: string;
  /** '' for a client without one; on a change: null keeps the one there is. */
  clientSecret: string | null;
  secretInHeader: boolean;
  namesItself: boolean;
  /** Separated by spaces. */
  scopes: string;
  /** Further parameters of the request for access, such as `prompt=consent`. */
  extraParameters: string;
}

export interface SignInProvider extends Omit<SignInProviderChoices, 'clientSecret'> {
  id: number;
  hasSecret: boolean;
  /** Mailboxes that sign in there. */
  mailboxes: number;
}

export interface SignInProviders {
  providers: SignInProvider[];
  /** What has to be registered at a provider as the address to which it sends the browser back. */
  redirectUri: string;
}

/** What a provider says of its sign-in by itself. */
export type FoundProvider = Pick<
  SignInProviderChoices,
  'issuer' | 'authorizationEndpoint' | 'tokenEndpoint' | 'secretInHeader' | 'namesItself' | 'scopes'
>;

/** Access to one account. */
export interface GrantView {
  id: number;
  providerId: number;
  providerName: string;
  username: string;
  /** `waiting`: the person is at the provider, or has left. */
  state: 'waiting' | 'given' | 'none';
  /** Why there is none, in a sentence; null where there is, or it is being asked for. */
  refusal: string | null;
  grantedAt: number | null;
}
