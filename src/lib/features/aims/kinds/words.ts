/** What a kind of aim is called. */
export interface KindWords {
	/** "complementary pair" */
	name: string;
	/** What a fresh one is called, before its number: "one-shot". */
	begin: string;
	/** As it is offered: "a complementary pair with dead time". */
	offer: string;
	/** What a timer that cannot do it lacks, behind the timer's name: "has no complementary outputs". */
	cannot: string;
}
