export interface MessageView {
  id: number;
  name: string;
  subject: string;
  body: string;
  updatedAt: number;
  /** Where subject or body does not parse; null when both do. */
  fault: MessageFault | null;
  /** Campaigns that use it. */
  usedBy: string[];
}

export interface MessageFault {
  part: 'subject' | 'body';
  message: string;
  line: number;
  column: number;
  offset: number;
}

export interface MessageDraft {
  name: string;
  subject: string;
  body: string;
}

/** One finished message for one recipient of a list. */
export interface ProofView {
  index: number;
  total: number;
  from: string;
  to: string;
  subject: string;
  text: string;
  html: string;
  /** Blank fields without fallback: this proof could not leave. */
  blanks: string[];
}
