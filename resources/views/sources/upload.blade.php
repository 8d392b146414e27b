<div class="note good mx-6 mt-3" id="upload">
    <p>Rows of the file <strong>{{ $upload->file_name }}</strong>@if ($upload->sheet), sheet {{ $upload->sheet }}@endif,
        {{ \App\View\Show::bytes($upload->bytes) }} as CSV, handed in {{ \App\View\Show::ago($upload->updated_at) }} by {{ $upload->user?->name ??
        'the command line' }}.</p>
    @can('update', $source)<form method="post" action="{{ route('sources.upload', $source) }}" enctype="multipart/form-data"
        class="mt-1 flex flex-wrap items-center gap-2">@csrf<label class="text-sm" for="upload-file">Another file in its place</label><input class="f !w-auto"
        id="upload-file" name="file" type="file" accept=".csv,.tsv,.xlsx" required @error('file') aria-describedby="upload-fault" @enderror><button
        class="btn small">Replace it</button></form>@endcan
    @error('file')<p class="fault" id="upload-fault" role="alert">{{ $message }}</p>@enderror
</div>
