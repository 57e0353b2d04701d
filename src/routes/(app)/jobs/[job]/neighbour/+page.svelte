<p role="status">On to the next job …</p>
