<p>Opening the plot…</p>
