import { SaxesParser } from 'saxes';

/** An element with its text and where it begins. */
export interface XmlElement {
	name: string;
	attributes: Readonly<Record<string, string>>;
	children: XmlElement[];
	text: string;
	/** From 1. */
	line: number;
}

export type SvdTrouble = 'no-xml' | 'doctype' | 'encoding' | 'too-deep' | 'too-long' | 'too-many' | 'no-device';

/** A description that cannot be read at all. */
export class SvdError extends Error {
	constructor(
		readonly trouble: SvdTrouble,
		readonly line: number,
		readonly column: number
	) {
		super(`${trouble} ${line}:${column}`);
	}
}

/** What no real description comes near: nesting, letters of one text, and elements. */
const [DEEPEST, LONGEST, MOST] = [32, 65_536, 3_000_000];

/** Builds the tree of an XML file piece by piece. There is no document type, and nothing is expanded. */
export class TreeReader {
	private readonly parser = new SaxesParser({ position: true, xmlns: false });
	private readonly open: XmlElement[] = [];
	private root: XmlElement | undefined;
	private count = 0;

	constructor() {
		const { parser, open } = this;
		parser.on('error', () => this.fail('no-xml'));
		parser.on('doctype', () => this.fail('doctype'));
		parser.on('xmldecl', ({ encoding }) => {
			if (encoding !== undefined && !/^utf-?8$/i.test(encoding)) this.fail('encoding');
		});
		parser.on('opentag', ({ name, attributes }) => {
			if (open.length >= DEEPEST) this.fail('too-deep');
			if (++this.count > MOST) this.fail('too-many');
			const element: XmlElement = { name, attributes, children: [], text: '', line: parser.line };
			open.at(-1)?.children.push(element);
			this.root ??= element;
			open.push(element);
		});
		parser.on('closetag', () => void open.pop());
		const text = (more: string) => {
			const element = open.at(-1);
			if (!element) return;
			element.text += more;
			if (element.text.length > LONGEST) this.fail('too-long');
		};
		parser.on('text', text);
		parser.on('cdata', text);
	}

	/** The next piece of text. Throws SvdError. */
	feed(piece: string): void {
		this.parser.write(piece);
	}

	/** The root element. Throws SvdError. */
	end(): XmlElement {
		this.parser.close();
		if (!this.root) this.fail('no-xml');
		return this.root;
	}

	private fail(trouble: SvdTrouble): never {
		throw new SvdError(trouble, this.parser.line, this.parser.column);
	}
}
