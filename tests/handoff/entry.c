/* Where an emulated core enters, and the arithmetic that a compiler leaves to a library that is not there. */
#include "calls.h"

int entry(unsigned which, uint32_t wish);
int entry(unsigned which, uint32_t wish) { return call(which, wish); }

uint64_t divide(uint64_t n, uint64_t by, uint64_t *left);
__attribute__((noinline)) uint64_t divide(uint64_t n, uint64_t by, uint64_t *left) {
	uint64_t found = 0, rest = 0;
	for (int i = 63; i >= 0; i--) {
		int over = (rest >> 63) != 0;
		rest = (rest << 1) | ((n >> i) & 1U);
		if (over || rest >= by) {
			rest -= by;
			found |= (uint64_t)1 << i;
		}
	}
	*left = rest;
	return found;
}

#ifdef __arm__
/* The quotient in the first two registers, the rest in the next two. */
__attribute__((naked)) void __aeabi_uldivmod(void) {
	__asm__ volatile("push {r4, lr}\n sub sp, #16\n add r4, sp, #8\n str r4, [sp]\n bl divide\n ldr r2, [sp, #8]\n ldr r3, [sp, #12]\n add sp, #16\n pop {r4, pc}");
}
#else
uint64_t __udivdi3(uint64_t n, uint64_t by);
uint64_t __umoddi3(uint64_t n, uint64_t by);
uint64_t __udivdi3(uint64_t n, uint64_t by) {
	uint64_t left;
	return divide(n, by, &left);
}
uint64_t __umoddi3(uint64_t n, uint64_t by) {
	uint64_t left;
	divide(n, by, &left);
	return left;
}
#endif
