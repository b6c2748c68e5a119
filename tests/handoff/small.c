/* Calls generated code by number on a core with an int of 16 bits. The debugger sets what is called, and watches. */
#include "calls.h"

volatile unsigned asked_which;
volatile uint32_t asked_wish;
volatile int returned;

void ask(void);
void tell(void);
void serve(void);
__attribute__((noinline)) void ask(void) { __asm__ volatile(""); }
__attribute__((noinline)) void tell(void) { __asm__ volatile(""); }

/* Tables of a switch may lie in front of all code: what is run first is a jump. */
__attribute__((naked, section(".vectors"), used)) void first(void);
void first(void) { __asm__ volatile("rjmp begin"); }
__attribute__((naked, section(".init2"), used)) void begin(void);
void begin(void) { __asm__ volatile("clr r1\n ldi r28, 0xff\n ldi r29, 0x1f\n out 0x3e, r29\n out 0x3d, r28"); }
__attribute__((naked, section(".init9"), used)) void enter(void);
void enter(void) { __asm__ volatile("rjmp serve"); }

__attribute__((used)) void serve(void) {
	for (;;) {
		ask();
		returned = call(asked_which, asked_wish);
		tell();
	}
}
