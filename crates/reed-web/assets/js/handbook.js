// The handbook: search among its paragraphs, and the chapter that is being read marked in the contents. Without this script all of it
// stands there, with its contents.
document.addEventListener("alpine:init", () => {
  Alpine.data("handbook", () => ({
    init() {
      const links = new Map([...this.$root.querySelectorAll(".contents a")].map((link) => [link.getAttribute("href").slice(1), link]));
      const watcher = new IntersectionObserver((seen) => {
        for (const entry of seen) links.get(entry.target.dataset.chapter).classList.toggle("is-read", entry.isIntersecting);
      }, { rootMargin: "-10% 0px -70% 0px" });
      for (const chapter of this.$root.querySelectorAll("[data-chapter]")) watcher.observe(chapter);
    },
    // Only what holds the words stays, under its headings.
    search() {
      const words = this.$refs.find.value.trim().toLowerCase().split(/\s+/).filter((word) => word.length > 1);
      const fits = (block) => words.every((word) => block.textContent.toLowerCase().includes(word));
      let found = 0;
      for (const chapter of this.$root.querySelectorAll("[data-chapter]")) {
        const named = fits(chapter.querySelector("h2"));
        let here = 0;
        for (const block of chapter.querySelectorAll("p, li, dt, dd, tbody tr")) {
          // What stands inside another block goes with it.
          if (block.parentElement.closest("li, dd, tr")) continue;
          const shown = words.length === 0 || named || fits(block);
          block.hidden = !shown;
          if (shown) here += 1;
        }
        for (const list of chapter.querySelectorAll("ul, ol, dl, table")) list.hidden = !list.querySelector("li:not([hidden]), dt:not([hidden]), dd:not([hidden]), tbody tr:not([hidden])");
        chapter.hidden = here === 0;
        const link = this.$root.querySelector(`.contents a[href="#${chapter.dataset.chapter}"]`);
        link.parentElement.hidden = here === 0;
        if (words.length > 0) found += here;
      }
      this.$refs.found.textContent = words.length === 0 ? "" : found === 0 ? "Nothing. Try another word." : found === 1 ? "One place" : found + " places";
    },
  }));
});
