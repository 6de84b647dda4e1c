// before anything is painted: the scheme that this device was set to
try {
  const t = localStorage.getItem("yb.theme");
  if (t === "light" || t === "dark") document.documentElement.dataset.theme = t;
} catch {}
