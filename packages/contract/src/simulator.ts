/** A simulated recipient's inbox, as its owner sees it. */
export interface SimulatedPerson {
  address: string;
  persona: string;
  personaWords: string;
  received: number;
  unread: number;
  awayUntil: string | null;
}

export interface SimulatedMail {
  id: number;
  from: string;
  subject: string;
  receivedAt: number;
  read: boolean;
  html: string;
  text: string;
  unsubscribeLink: string | null;
  oneClick: boolean;
  cc: string[];
  files: string[];
}

export interface SimulatedCounts {
  accepted: number;
  refused: number;
  bouncedLater: number;
  answers: number;
  unsubscribes: number;
}
